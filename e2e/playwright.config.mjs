import { defineConfig } from '@playwright/test';

const PORT = 7391;

export default defineConfig({
  testDir: 'tests',
  outputDir: 'results',
  fullyParallel: false,
  workers: 1,
  // Machines that test are shared and stall at times; what fails, fails in the end.
  timeout: 180_000,
  expect: { timeout: 30_000 },
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    // Who has seen the hints of the first piece; a test of its own has not.
    storageState: {
      cookies: [],
      origins: [
        {
          origin: `http://127.0.0.1:${PORT}`,
          localStorage: [{ name: 'kalotype-hints-seen', value: 'yes' }],
        },
      ],
    },
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  webServer: {
    command: `${process.env.KALOTYPE ?? '../target/debug/kalotype'} demo --port ${PORT}`,
    url: `http://127.0.0.1:${PORT}/pieces`,
    reuseExistingServer: false,
    timeout: 60_000,
  },
});
