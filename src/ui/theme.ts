import type { ThemeConfig } from 'antd';

export type ThemeName = 'paper' | 'bench';

const COLOURS = {
  paper: {
    onLive: '#fffef9',
    live: '#17594b',
    brass: '#94580c',
    oxide: '#a5382d',
    ink: '#1d2823',
    quiet: '#5a625c',
    page: '#f3f1ea',
    card: '#fffef9',
    line: '#d8d3c4',
  },
  bench: {
    onLive: '#0f1a17',
    live: '#64c6a8',
    brass: '#dba653',
    oxide: '#ec8577',
    ink: '#ebe8de',
    quiet: '#a3aca5',
    page: '#141a18',
    card: '#1c2422',
    line: '#38433f',
  },
} as const;

/** The house look, as tokens for the controls; theme.css carries the same colours for everything else. */
export function tokensFor(name: ThemeName): ThemeConfig {
  const c = COLOURS[name];
  return {
    token: {
      colorPrimary: c.live,
      colorTextLightSolid: c.onLive,
      colorInfo: c.live,
      colorSuccess: c.live,
      colorWarning: c.brass,
      colorError: c.oxide,
      colorTextBase: c.ink,
      colorBgBase: c.card,
      colorBgContainer: c.card,
      colorBgElevated: c.card,
      colorBgLayout: c.page,
      colorBorder: c.line,
      colorBorderSecondary: c.line,
      colorTextSecondary: c.quiet,
      colorTextTertiary: c.quiet,
      colorTextPlaceholder: c.quiet,
      colorLink: c.live,
      fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
      fontSize: 13,
      borderRadius: 4,
      borderRadiusLG: 6,
      borderRadiusSM: 3,
      controlHeight: 28,
      controlHeightSM: 24,
      lineWidth: 1,
      motion: false,
      boxShadow: 'none',
      boxShadowSecondary: '0 4px 18px rgb(20 26 24 / 18%)',
      wireframe: false,
    },
    components: {
      Button: { primaryShadow: 'none', defaultShadow: 'none', fontWeight: 500 },
      Tabs: { horizontalItemPadding: '7px 0', horizontalItemGutter: 18, titleFontSize: 13, horizontalMargin: '0' },
      Table: {
        cellPaddingBlockSM: 3,
        cellPaddingInlineSM: 6,
        headerBg: 'transparent',
        headerSplitColor: 'transparent',
        headerColor: c.quiet,
      },
      Segmented: { itemSelectedBg: c.card, trackBg: c.page },
    },
  };
}
