'use client';

import { BulbOutlined, PlusOutlined, SearchOutlined } from '@ant-design/icons';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { setTheme, useThemeName } from '@/ui/appearance';
import { LazyPalette } from './lazy-palette';
import styles from './palette.module.css';

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

const ROOMS = [
  { path: '/new', name: 'New design', icon: <PlusOutlined /> },
  { path: '/drivers', name: 'Drivers', icon: null },
  { path: '/stock', name: 'Stock', icon: null },
] as const;

/** The strip at the top of every page but the desk: the rooms there are, search by any name, and the theme. */
export function RoomTop({ says }: { says: string }) {
  const here = usePathname();
  const [palette, setPalette] = useState(false);
  useHotkeys(
    'mod+k',
    (event) => {
      event.preventDefault();
      setPalette(true);
    },
    { enableOnFormTags: true },
  );
  return (
    <header className="top">
      <Link href="/" className="home">
        Jaunty Reed
      </Link>
      <span className={`top-quiet ${styles.shelfSays}`}>{says}</span>
      <nav className="top-actions" aria-label="Rooms">
        {ROOMS.map(({ path, name, icon }) => (
          <Link key={path} href={path} className={styles.topLink} aria-current={here === path ? 'page' : undefined}>
            {icon} {name}
          </Link>
        ))}
        <button
          type="button"
          className="plain icon"
          aria-label="Find anything"
          title="Ctrl + K"
          onClick={() => setPalette(true)}
        >
          <SearchOutlined />
        </button>
        <ThemeButton />
      </nav>
      <LazyPalette open={palette} onClose={() => setPalette(false)} />
    </header>
  );
}
