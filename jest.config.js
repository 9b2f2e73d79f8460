/** @type {import('jest').Config} */
export default {
  testEnvironment: 'node',
  testTimeout: 180_000,
  roots: ['<rootDir>/src', '<rootDir>/tests/unit'],
  testMatch: ['**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  transform: {
    '^.+\\.tsx?$': '<rootDir>/tests/transform.mjs',
  },
};
