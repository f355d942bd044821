/** Unit tests sit beside the code; server tests need PostgreSQL; browser tests need Chromium (scripts/test.mjs brings both). */
const shared = {
  testEnvironment: 'node',
  transform: { '\\.(tsx?|mjs)$|/fractional-indexing/.*\\.js$': 'babel-jest' },
  // What comes as nothing but modules is transformed too.
  transformIgnorePatterns: ['/node_modules/(?!(property-graph|fractional-indexing)/)'],
}
module.exports = {
  projects: [
    {
      ...shared,
      displayName: 'unit',
      testMatch: ['<rootDir>/{core,formats,standin,web}/**/*.test.ts'],
    },
    { ...shared, displayName: 'server', testMatch: ['<rootDir>/server/**/*.test.ts'] },
    {
      ...shared,
      displayName: 'browser',
      testEnvironment: '<rootDir>/e2e/driving/environment.mjs',
      testMatch: ['<rootDir>/e2e/**/*.test.ts'],
    },
  ],
}
