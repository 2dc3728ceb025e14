import journeys from '../e2e/playwright.config';

export default { ...journeys, projects: undefined, testDir: '.', testMatch: '*.bench.ts', reporter: [['list']], timeout: 400_000, outputDir: 'test-results' };
