'use client';

import { App, ConfigProvider, theme as antTheme } from 'antd';
import { useSyncExternalStore, type ReactNode } from 'react';
import { tokensFor, type ThemeName } from './theme';

const KEY = 'jaunty-reed-theme';
const listeners = new Set<() => void>();

function currentTheme(): ThemeName {
  return document.documentElement.dataset.theme === 'bench' ? 'bench' : 'paper';
}

/** Light paper or the dark evening bench; kept for the next visit. */
export function setTheme(name: ThemeName): void {
  document.documentElement.dataset.theme = name;
  try {
    localStorage.setItem(KEY, name);
  } catch {
    // Storage may be barred; the theme then lasts as long as the page.
  }
  listeners.forEach((listener) => listener());
}

export function useThemeName(): ThemeName {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
    currentTheme,
    () => 'paper',
  );
}

export function Appearance({ children }: { children: ReactNode }) {
  const name = useThemeName();
  return (
    <ConfigProvider
      theme={{ ...tokensFor(name), algorithm: name === 'bench' ? antTheme.darkAlgorithm : antTheme.defaultAlgorithm }}
      wave={{ disabled: true }}
    >
      <App>{children}</App>
    </ConfigProvider>
  );
}
