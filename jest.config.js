const swc = ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript' } }, module: { type: 'commonjs' } }];
const paths = { '^@/(.*)$': '<rootDir>/src/$1', '^@core/(.*)$': '<rootDir>/core/$1' };
module.exports = {
  testTimeout: 90000,
  projects: [
    {
      displayName: 'core',
      testEnvironment: 'jest-environment-node-single-context',
      testMatch: ['<rootDir>/{core,server,bench}/**/*.test.ts', '<rootDir>/src/**/*.test.ts'],
      transform: { '^.+\\.tsx?$': swc },
      moduleNameMapper: paths,
    },
    {
      displayName: 'ui',
      preset: 'jest-expo/web',
      testMatch: ['<rootDir>/src/**/*.test.tsx'],
      moduleNameMapper: { ...paths, '^@react-native-async-storage/async-storage$': '@react-native-async-storage/async-storage/jest', '^lucide-react-native/icons/(.*)$': '<rootDir>/node_modules/lucide-react-native/dist/cjs/icons/$1.js' },
      setupFilesAfterEnv: ['<rootDir>/src/testing/setup.ts'],
    },
  ],
};
