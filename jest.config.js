const swc = ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript' } }, module: { type: 'commonjs' } }];
module.exports = {
  projects: [
    {
      displayName: 'core',
      testEnvironment: 'node',
      testMatch: ['<rootDir>/{core,server,bench}/**/*.test.ts', '<rootDir>/src/**/*.test.ts'],
      transform: { '^.+\\.tsx?$': swc },
      moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1', '^@core/(.*)$': '<rootDir>/core/$1' },
    },
  ],
};
