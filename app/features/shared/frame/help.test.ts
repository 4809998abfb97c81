import { describe, expect, it } from 'vitest';
import { helpOf } from './help';
import { steps } from './steps';

describe('help', () => {
  it('is there for every step and page, each its own, with three jobs in steps', () => {
    const paths = [
      '/',
      ...steps.map(([to]) => `/libraries/x/${to}`),
      '/libraries/x/history',
      '/convert',
      '/pdf',
      '/books',
      '/profiles',
      '/backups',
    ];
    const all = paths.map(helpOf);
    expect(new Set(all.map((h) => h.title)).size).toBe(paths.length);
    for (const { jobs } of all) {
      expect(jobs.length).toBe(3);
      for (const job of jobs) expect(job.steps.length).toBeGreaterThan(0);
    }
    expect(helpOf('/gather').title).toBe('Gather');
    expect(helpOf('/books/some-book').title).toBe('Books');
    expect(helpOf('/no/such/page').title).toBe('Libraries');
  });
});
