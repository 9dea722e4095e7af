'use client';

import { BulbOutlined } from '@ant-design/icons';
import Link from 'next/link';
import { setTheme, useThemeName } from './appearance';

/** Light paper or the dark evening bench. */
export function ThemeButton() {
  const theme = useThemeName();
  return (
    <button
      type="button"
      className="plain icon"
      aria-label={theme === 'paper' ? 'Dark evening bench' : 'Light paper'}
      onClick={() => setTheme(theme === 'paper' ? 'bench' : 'paper')}
    >
      <BulbOutlined />
    </button>
  );
}

/** The strip at the top of every room but the desk: home, and what is kept here. */
export function RoomTop({ says }: { says: string }) {
  return (
    <header className="top">
      <Link href="/" className="home">
        Jaunty Reed
      </Link>
      <span className="top-quiet shelf-says">{says}</span>
      <div className="top-actions">
        <ThemeButton />
      </div>
    </header>
  );
}
