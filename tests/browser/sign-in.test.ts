import { afterAll, beforeAll, expect, it } from 'vitest';
import { Harness, type Screen } from './harness.ts';

const PASSWORD = 'a long way to Tipperary';
let harness: Harness;
let screen: Screen;
beforeAll(async () => {
  harness = await Harness.start({ PAPILLON_PASSWORD: PASSWORD });
  screen = await harness.bare('/gather');
});
afterAll(() => harness?.stop());

const give = async (password: string) => {
  await screen.page.type('input[type=password]', password);
  await Promise.all([screen.page.waitForNavigation(), screen.button('Sign in')]);
};

const groups = ({ page }: Screen) =>
  page.$$eval('.Outline-name .cut', (list) => list.map((g) => g.textContent));

it('asks, says what is wrong, and leads to where one wanted to go', async () => {
  await give('wrong');
  await screen.text(/That is not the password/);
  await give(PASSWORD);
  expect(new URL(screen.page.url()).pathname).toBe('/gather');
  await screen.text(/No library is open/);
  expect(screen.errors).toEqual([]);
});

it('what is done after the session has ended waits until one has signed in again', async () => {
  await screen.go('/');
  await screen.button('New library');
  await screen.fill('Name of the library', 'New library');
  await screen.button('Make library');
  await screen.page.waitForFunction(() => location.pathname.endsWith('/arrange'));
  const path = new URL(screen.page.url()).pathname;
  // nothing can be changed until the library has come in
  await expect
    .poll(async () => {
      if ((await groups(screen)).length === 0) await screen.button('New group');
      await new Promise((resolve) => setTimeout(resolve, 500));
      return groups(screen);
    })
    .toEqual(['New group']);
  await screen.text(/· saved/);
  // a restart ends all sessions
  await harness.serve({ PAPILLON_PASSWORD: PASSWORD });
  await screen.button('New group');
  await screen.text(/Not saved yet; your changes wait here. You are signed out/);
  const other = await harness.bare(path);
  screen = other;
  await give(PASSWORD);
  // the pages of one browser share what waits, and the session
  await expect.poll(() => groups(other)).toEqual(['New group', 'New group 2']);
  await other.text(/· saved/);
});

it('signing out asks again', async () => {
  await screen.button('Sign out');
  await screen.page.waitForSelector('input[type=password]');
  await screen.page.goBack();
  await screen.page.waitForSelector('input[type=password]');
});
