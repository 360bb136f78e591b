const project = (name) => ({
  displayName: name,
  rootDir: name,
  testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/test/**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts'],
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      {
        jsc: {
          parser: { syntax: 'typescript', decorators: true },
          transform: { legacyDecorator: true, decoratorMetadata: true },
          target: 'es2022',
        },
        module: { type: 'es6' },
      },
    ],
  },
  // Tests run on the sources, so that a stale build can't make them pass.
  moduleNameMapper: {
    '^@unvelt/contract/schemas$': '<rootDir>/../contract/src/connector/schemas.ts',
    '^@unvelt/(core|contract|server|standin|gate)$': '<rootDir>/../$1/src/index.ts',
    '^(\\.{1,2}/.*)\\.js$': '$1',
  },
})

// Pages of the stand-in take real time to make, and CI machines are slow.
// Much of a test is waiting for a page: on two cores three at a time take four fifths of the time of two.
export default {
  testTimeout: 600_000,
  maxWorkers: 3,
  projects: ['core', 'contract', 'web', 'server', 'standin', 'gate'].map(project),
}
