import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import '@fontsource-variable/atkinson-hyperlegible-next';
import '@fontsource-variable/atkinson-hyperlegible-mono';
import '@/ui/theme.css';
import '@/ui/desk.css';
import '@/ui/shelf.css';
import '@/ui/report.css';
import '@/ui/views.css';
import 'katex/dist/katex.min.css';
import { Appearance } from '@/ui/appearance';
import { Offline } from '@/ui/offline';

export const metadata: Metadata = {
  title: 'Jaunty Reed',
  description: 'A desk for designing audio filters: from brief to log.',
};

export default async function RootLayout({ children }: { children: ReactNode }) {
  // Reading the request keeps pages dynamic, so that each gets its own nonce from src/proxy.ts.
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        {/* The theme is set before the first paint, so that an evening bench never flashes white. */}
        <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: THEME_SCRIPT }} />
      </head>
      <body>
        <Appearance>
          <Offline />
          {children}
        </Appearance>
      </body>
    </html>
  );
}

const THEME_SCRIPT = `try {
  var kept = localStorage.getItem('jaunty-reed-theme');
  var dark = matchMedia('(prefers-color-scheme: dark)').matches;
  document.documentElement.dataset.theme = kept === 'bench' || kept === 'paper' ? kept : dark ? 'bench' : 'paper';
} catch (e) {
  document.documentElement.dataset.theme = 'paper';
}`;
