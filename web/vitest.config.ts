import { defineConfig, mergeConfig } from 'vitest/config'
import page from './vite.config'

export default mergeConfig(
  page,
  defineConfig({
    test: {
      pool: 'threads',
      testTimeout: 60_000, // a busy machine is slow, not wrong
      projects: [
        {
          extends: true,
          test: {
            name: 'rules',
            setupFiles: 'src/words/director.ts',
            include: ['src/**/*.test.ts', 'eslint/*.test.js'],
          },
        },
        {
          extends: true,
          test: {
            name: 'components',
            include: ['src/**/*.test.tsx'],
            environment: 'jsdom',
            // To load React and Ant Design anew for each file took four fifths of the time.
            isolate: false,
            setupFiles: 'src/testing/setup.ts',
          },
        },
      ],
    },
  }),
)
