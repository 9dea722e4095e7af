import type { MetadataRoute } from 'next';

/** What a browser needs to install the application beside others. */
export default function manifest(): MetadataRoute.Manifest {
  return {
    name: 'Jaunty Reed',
    short_name: 'Jaunty Reed',
    description: 'A desk for audio filters: from brief to log.',
    start_url: '/',
    display: 'standalone',
    background_color: '#f4f0e9',
    theme_color: '#17594b',
    icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml' }],
  };
}
