const node = {
  testEnvironment: 'node',
  transform: { '^.+\\.(ts|tsx|js|mjs)$': '<rootDir>/scripts/jest-esbuild.cjs' },
  // These packages ship modules only in a form that Jest's loader does not read as it is.
  transformIgnorePatterns: ['/node_modules/(?!(@marcbachmann/cel-js|ulid|fractional-indexing|osc-min)/)'],
  // It exports itself to module importers alone.
  moduleNameMapper: { '^osc-min$': '<rootDir>/node_modules/osc-min/dist/index.js' },
  moduleFileExtensions: ['ts', 'tsx', 'mjs', 'js', 'json'],
};

export default {
  projects: [
    { ...node, displayName: 'core', testMatch: ['<rootDir>/packages/**/*.test.ts'] },
    {
      ...node,
      displayName: 'server',
      testMatch: [
        '<rootDir>/apps/server/**/*.test.ts',
        '<rootDir>/simulate/**/*.test.ts',
        '<rootDir>/engines/**/*.test.ts',
      ],
    },
    { ...node, displayName: 'e2e', testMatch: ['<rootDir>/e2e/**/*.test.ts'] },
    {
      preset: 'jest-expo',
      displayName: 'desk',
      rootDir: '<rootDir>/apps/desk',
      testMatch: ['<rootDir>/src/**/*.test.{ts,tsx}'],
      // The preset's own list, and a package that ships modules only.
      transformIgnorePatterns: [
        '/node_modules/(?!(.pnpm|react-native|@react-native|@react-native-community|expo|@expo|@expo-google-fonts|react-navigation|@react-navigation|standard-navigation|fractional-indexing|ulid|@marcbachmann))',
        '/node_modules/react-native-reanimated/plugin/',
      ],
    },
  ],
};
