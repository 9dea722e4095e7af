const transform = {
  '^.+\\.(t|j)sx?$': [
    '@swc/jest',
    {
      jsc: {
        parser: { syntax: 'typescript', tsx: true },
        target: 'es2022',
        transform: { react: { runtime: 'automatic' } },
      },
    },
  ],
};
const common = {
  transform,
  // Tests run in a context of their own, in which every look-up of a global costs more than the sum it is used in.
  sandboxInjectedGlobals: [
    'Math',
    'Number',
    'Array',
    'Object',
    'Map',
    'Set',
    'Infinity',
    'Float64Array',
    'Int32Array',
    'Uint8Array',
  ],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1', '\\.css$': '<rootDir>/src/testing/empty.cjs' },
  transformIgnorePatterns: [
    '/node_modules/(?!(@ant-design/(icons|icons-svg|colors|fast-color)|pure-rand|dexie|immer|zustand|zundo|comlink|' +
      'fflate|ml-levenberg-marquardt|is-any-array)/)',
  ],
};

/** @type {import('jest').Config} */
const config = {
  projects: [
    {
      ...common,
      displayName: 'core',
      testEnvironment: 'node',
      testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/cli/**/*.test.ts', '<rootDir>/audit/**/*.test.ts'],
    },
    {
      ...common,
      displayName: 'components',
      testEnvironment: 'jsdom',
      testMatch: ['<rootDir>/src/**/*.test.tsx'],
      setupFilesAfterEnv: ['<rootDir>/src/testing/dom-setup.ts'],
    },
  ],
};

export default config;
