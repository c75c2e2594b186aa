/** The short form of `npm run soak -- kills`: the browser dies in the middle of work. */
import { expect, test } from '@playwright/test';
import { soakKills } from '../../testkit/soakKills';

test('killed at random moments of typing, dragging and importing: what was said to be saved is there', async ({
  baseURL,
}) => {
  test.setTimeout(240_000);
  const r = await soakKills(baseURL!, 77, 6);
  expect(r.faults).toEqual([]);
  expect(r.kills).toBe(6);
  // It must have had something to lose.
  expect(r.promised).toBeGreaterThan(3);
});
