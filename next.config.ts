import type { NextConfig } from 'next';
import { existsSync, readFileSync } from 'node:fs';
import { version } from './package.json';

/** Where `scripts/bundle.mjs` put the workers before the build; the build has their addresses from then on. */
const ADDRESSES = 'public/workers/addresses.json';
const workers = existsSync(ADDRESSES) ? (JSON.parse(readFileSync(ADDRESSES, 'utf8')) as Record<string, string>) : {};

/**
 * Headers for every answer. Pages get their content security policy, with a nonce, from src/proxy.ts;
 * static files get this fixed one, because a worker is governed by the policy its script came with.
 */
const always = [
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'Referrer-Policy', value: 'no-referrer' },
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
  { key: 'Permissions-Policy', value: 'camera=(), geolocation=(), payment=(), usb=(), microphone=(self), midi=(self)' },
];

const staticPolicy = [
  "default-src 'none'",
  "script-src 'self' 'wasm-unsafe-eval'",
  "connect-src 'self'",
  "style-src 'self'",
  "font-src 'self'",
  "img-src 'self'",
].join('; ');

/** What never changes under its name is asked for once; while developing names stay as contents change. */
const IMMUTABLE = process.env.NODE_ENV === 'production' ? 'public, max-age=31536000, immutable' : 'no-store';

const config: NextConfig = {
  reactStrictMode: true,
  // For the bench, which says what the weight is made of.
  productionBrowserSourceMaps: process.env.SOURCE_MAPS === '1',
  poweredByHeader: false,
  // For `npm run standalone`: what the server needs and no more.
  output: process.env.STANDALONE === '1' ? 'standalone' : undefined,
  env: {
    NEXT_PUBLIC_VERSION: version,
    NEXT_PUBLIC_JOB_WORKER: workers.job,
    NEXT_PUBLIC_LIVE_SOUND_WORKER: workers['live-sound'],
    NEXT_PUBLIC_READING_WORKER: workers.reading,
  },
  devIndicators: false,
  // Types are checked once, by npm run check.
  typescript: { ignoreBuildErrors: true },
  headers: async () => [
    { source: '/:path*', headers: always },
    { source: '/_next/static/:path*', headers: [{ key: 'Content-Security-Policy', value: staticPolicy }] },
    {
      source: '/workers/:path*',
      headers: [
        { key: 'Content-Security-Policy', value: staticPolicy },
        { key: 'Cache-Control', value: IMMUTABLE },
      ],
    },
    { source: '/service-worker.js', headers: [{ key: 'Content-Security-Policy', value: staticPolicy }] },
    { source: '/schema/:path*', headers: [{ key: 'Content-Security-Policy', value: staticPolicy }] },
  ],
};

export default config;
