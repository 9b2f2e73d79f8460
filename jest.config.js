/** @type {import('jest').Config} */
export default {
  testEnvironment: 'node',
  testTimeout: 180_000,
  // Machines with two processors would run one suite at a time; nothing here is timed.
  maxWorkers: 2,
  roots: ['<rootDir>/src', '<rootDir>/tests/unit'],
  testMatch: ['**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  transform: {
    '^.+\\.tsx?$': '<rootDir>/tests/transform.mjs',
  },
};
