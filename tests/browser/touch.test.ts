import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fleet } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// A tablet held upright, with an emulated touch screen.
const TABLET = { width: 820, height: 1180, hasTouch: true, isMobile: true };
/** Longer than a finger must stay to take hold. */
const LONG_MS = 900;
/** Shorter than a finger takes from lifting to touching again. */
const LIFT_MS = 150;
/** WCAG 2.5.5 asks for 44 px, 2.5.8 for 24; what is tapped here has 40. */
const FINGER = 40;

let harness: Harness;
let screen: Screen;
let id = '';
beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep({ ...fleet, name: 'A fleet whose name is as long as a name may well be' });
  screen = await harness.page('/');
  await screen.page.setViewport(TABLET);
});
afterAll(() => harness?.stop());

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const middle = async (name: string) => {
  const box = (await (await screen.option(name)).boundingBox())!;
  return [box.x + box.width / 2, box.y + box.height / 2] as const;
};
const chosen = () =>
  screen.page.$$eval('[role=option][aria-selected=true] .Mosaic-name', (list) =>
    list.map((e) => e.textContent),
  );
/** A tap, as long after the last as a finger needs: 50 ms after a drag no click counts. */
const tap = async (name: string) => {
  await wait(LIFT_MS);
  await screen.page.touchscreen.tap(...(await middle(name)));
};
const seen = (selector: string) =>
  screen.page.$$eval(selector, (list) =>
    list.map((e) => {
      const { x, y, width, height } = e.getBoundingClientRect();
      return { x, y, width, height };
    }),
  );
const gather = () => screen.go(`/libraries/${id}/gather`);
const arrange = () => screen.go(`/libraries/${id}/arrange`);

describe('a finger on the board', () => {
  it('taps one swatch, and another in its place', async () => {
    await arrange();
    await tap('Boot-top red');
    expect(await chosen()).toEqual(['Boot-top red']);
    await tap('Paper');
    expect(await chosen()).toEqual(['Paper']);
  });

  it('that stays chooses several, and ends it', async () => {
    const [x, y] = await middle('Boot-top red');
    await screen.page.touchscreen.touchStart(x, y);
    await wait(LONG_MS);
    await screen.page.touchscreen.touchEnd();
    await screen.text(/1 swatch chosen\. Tap to add or remove/);
    await tap('Old brass');
    await screen.text(/2 swatches chosen/);
    expect(await chosen()).toEqual(['Boot-top red', 'Old brass']);
    await tap('Boot-top red');
    await expect.poll(chosen).toEqual(['Old brass']);
    await screen.button('Choose none');
    expect(await chosen()).toEqual([]);
    // a long press alone has moved nothing
    expect(await screen.names()).toEqual([
      'Paper',
      'Sea & “sky” <1>',
      'Boot-top red',
      'Old brass',
      'Cutting',
    ]);
  });

  it('that stays and then moves takes the swatch along', async () => {
    const [x, y] = await middle('Cutting');
    const [toX, toY] = await middle('Boot-top red');
    await screen.page.touchscreen.touchStart(x, y);
    await wait(LONG_MS);
    for (let step = 1; step <= 8; step++) {
      await screen.page.touchscreen.touchMove(x + ((toX - 40 - x) * step) / 8, y + ((toY - y) * step) / 8);
      await wait(30);
    }
    await screen.page.touchscreen.touchEnd();
    await expect
      .poll(() => screen.names())
      .toEqual(['Paper', 'Sea & “sky” <1>', 'Cutting', 'Boot-top red', 'Old brass']);
  });

  it('that moves at once scrolls, and moves nothing', async () => {
    await arrange();
    const before = await screen.names();
    const [x, y] = await middle('Paper');
    await screen.page.touchscreen.touchStart(x, y);
    for (let step = 1; step <= 6; step++) await screen.page.touchscreen.touchMove(x, y + 20 * step);
    await screen.page.touchscreen.touchEnd();
    await wait(200);
    expect(await screen.names()).toEqual(before);
  });
});

describe('a finger on the ribbon', () => {
  it('drags a member, and the joints between them', async () => {
    await screen.go(`/libraries/${id}/gather?from=harmony`);
    await screen.button('Boot-top red');
    const said = () => screen.page.$eval('[data-key="0"]', (e) => e.getAttribute('aria-label'));
    const before = await said();
    const [at] = await seen('[data-key="0"]');
    const [x, y] = [at!.x + at!.width / 2, at!.y + at!.height / 2];
    await screen.page.touchscreen.touchStart(x, y);
    for (let step = 1; step <= 6; step++)
      await screen.page.touchscreen.touchMove(x + 10 * step, y - 4 * step);
    await screen.page.touchscreen.touchEnd();
    await expect.poll(said).not.toBe(before);
    const joint = () =>
      screen.page.$eval('[aria-label^="Joint"]', (e) => Number(e.getAttribute('aria-valuenow')));
    const was = await joint();
    const [edge] = await seen('[aria-label^="Joint"]');
    const [jx, jy] = [edge!.x + edge!.width / 2, edge!.y + edge!.height / 2];
    await screen.page.touchscreen.touchStart(jx, jy);
    for (let step = 1; step <= 6; step++) await screen.page.touchscreen.touchMove(jx + 10 * step, jy);
    await screen.page.touchscreen.touchEnd();
    await expect.poll(joint).toBeGreaterThan(was);
  });
});

describe('outline and readout', () => {
  it('are drawers: they come and go, and leave the stage its width', async () => {
    await arrange();
    const [stage] = await seen('main');
    expect(stage!.width).toBe(TABLET.width);
    expect(await screen.page.$('[role=dialog]')).toBeNull();
    await screen.button('Groups');
    const [drawer] = await seen('[role=dialog][aria-label=Groups]');
    expect(drawer!.x).toBe(0);
    await screen.page.keyboard.press('Escape');
    await screen.page.waitForSelector('[role=dialog]', { hidden: true });
    expect(await screen.page.evaluate(() => document.activeElement?.getAttribute('aria-label'))).toBe(
      'Groups',
    );
    await tap('Boot-top red');
    await screen.button('Readout');
    await screen.text(/Lab D50/);
    const [readout] = await seen('[role=dialog][aria-label=Readout]');
    expect(Math.round(readout!.x + readout!.width)).toBe(TABLET.width);
    // a tap beside it shuts it
    await screen.page.touchscreen.tap(100, 600);
    await screen.page.waitForSelector('[role=dialog]', { hidden: true });
  });

  it('are in sight again when the tablet is turned, and nothing stays behind a veil', async () => {
    await screen.button('Groups');
    await screen.page.waitForSelector('[role=dialog]');
    await screen.page.setViewport({ ...TABLET, width: TABLET.height, height: TABLET.width });
    await screen.page.waitForSelector('[role=dialog]', { hidden: true });
    await tap('Paper');
    await expect.poll(chosen).toEqual(['Paper']);
    expect((await seen('[role=complementary][aria-label=Readout]'))[0]!.width).toBeGreaterThan(200);
    await screen.page.setViewport(TABLET);
  });
});

describe('the picture', () => {
  it('has the width, and follows a pinch', async () => {
    await gather();
    const picture = await sharp({
      create: { width: 400, height: 300, channels: 3, background: '#2f7d6b' },
    })
      .png()
      .toBuffer();
    await screen.drop([{ name: 'sea.png', bytes: picture }]);
    const area = await screen.page.waitForSelector('.PictureView-area', { visible: true });
    const box = (await area!.boundingBox())!;
    expect(box.width).toBeGreaterThan(TABLET.width / 2);
    await screen.text(/Put 1 in the tray/);
    const zoomed = () =>
      screen.page.$eval('.zoom-buttons-zoom', (e) => Number.parseFloat(e.textContent ?? ''));
    const before = await zoomed();
    const cdp = await screen.page.createCDPSession();
    const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
    const fingers = (gap: number) => [
      { x: cx - gap, y: cy, id: 1 },
      { x: cx + gap, y: cy, id: 2 },
    ];
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: fingers(40) });
    for (let gap = 50; gap <= 160; gap += 10)
      await cdp.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: fingers(gap) });
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
    await expect.poll(zoomed).toBeGreaterThan(before * 2);
  });
});

describe('everything that is tapped', () => {
  it.each([
    ['the libraries', '/'],
    ['Gather', '/libraries/ID/gather'],
    ['Codes', '/libraries/ID/gather?from=codes'],
    ['Harmony', '/libraries/ID/gather?from=harmony'],
    ['Arrange', '/libraries/ID/arrange'],
    ['Boards', '/libraries/ID/arrange?view=board'],
    ['Check', '/libraries/ID/check'],
    ['Print profiles', '/profiles'],
    ['Backups', '/backups'],
    ['Hand over', '/libraries/ID/hand-over'],
    ['the history', '/libraries/ID/history'],
    ['Convert', '/convert'],
    ['PDF', '/pdf'],
  ])('on %s is within reach, uncut, and large enough for a finger', async (_, path) => {
    await screen.go(path.replace('ID', id));
    await wait(300);
    for (const part of ['header', 'main']) {
      const [box] = await seen(part);
      expect([part, box!.x, box!.width]).toEqual([part, 0, TABLET.width]);
    }
    const small = await screen.page.evaluate((least) => {
      const said: string[] = [];
      for (const e of document.querySelectorAll<HTMLElement>('button, a[href], input, select')) {
        if (!e.checkVisibility({ visibilityProperty: true }) || e.closest('[role=slider], .MuiSlider-root'))
          continue;
        if (e.getAttribute('aria-hidden') === 'true') continue;
        // shown to who tabs to it alone
        if (e.getAttribute('href') === '#stage') continue;
        // a box to tick is tapped by its label
        const { x, y, width, height } = (e.closest('label') ?? e).getBoundingClientRect();
        if (width === 0 || height === 0) continue;
        const name = `${e.tagName} ${e.getAttribute('aria-label') ?? e.textContent}`.slice(0, 60);
        if (Math.min(width, height) < least - 0.5)
          said.push(`${name}: ${Math.round(width)} × ${Math.round(height)}`);
        if (x < -0.5 || x + width > innerWidth + 0.5 || y < -0.5)
          said.push(`${name}: cut off at ${Math.round(x)}`);
      }
      return said;
    }, FINGER);
    expect(small).toEqual([]);
  });
});

describe.each([360, 390, 480])('on a phone of %i px', (width) => {
  beforeAll(() => screen.page.setViewport({ ...TABLET, width, height: 780 }));
  afterAll(() => screen.page.setViewport(TABLET));

  it.each([
    ['the libraries', '/'],
    ['Gather', '/gather'],
    ['Harmony', '/libraries/ID/gather?from=harmony'],
    ['Arrange', '/libraries/ID/arrange'],
    ['Apply', '/libraries/ID/apply'],
    ['Check', '/libraries/ID/check'],
    ['Hand over', '/libraries/ID/hand-over'],
    ['Convert', '/convert'],
  ])('nothing of %s lies beyond the edge, and what was in the bar is under one button', async (_, path) => {
    await screen.go(path.replace('ID', id));
    await screen.button('More');
    await screen.find('button', 'Help and keys');
    const beyond = await screen.page.evaluate(() => [
      document.documentElement.scrollWidth - innerWidth,
      ...[...document.querySelectorAll('button, input, h1, h2, select')]
        .filter((e) => !e.closest('.unseen, [role=tablist], nav, [inert]') && e.getClientRects().length > 0)
        .filter((e) => e.getBoundingClientRect().right > innerWidth + 1)
        .map((e) => e.getAttribute('aria-label') ?? e.textContent),
    ]);
    expect(beyond).toEqual([0]);
  });

  it('a swatch is chosen, its values come from below, and a kit is taken under the list of destinations', async () => {
    await arrange();
    await screen.choose('Old brass');
    await screen.button('Readout');
    await screen.text(/CMYK/);
    const [sheet] = await seen('[role=dialog]');
    expect(sheet!.width).toBe(width);
    expect(sheet!.y).toBeGreaterThan(200);
    await screen.page.keyboard.press('Escape');
    await screen.go(`/libraries/${id}/hand-over`);
    await screen.text(/change on the way|arrive/);
    const [list] = await seen('[aria-label="Where do the colours go?"]');
    const [report] = await seen('[aria-label="What changes"]');
    expect([list!.width, report!.width]).toEqual([width, width]);
    expect(report!.y).toBeGreaterThanOrEqual(list!.y + list!.height);
    await screen.find('button', 'Download kit');
  });
});

describe('on a page made twice as large', () => {
  it.each([
    [640, 400],
    [320, 256],
  ])('of %i × %i px, the picture is seen, and what sets it is scrolled to', async (width, height) => {
    await screen.page.setViewport({ width, height });
    await gather();
    const bytes = await sharp({ create: { width: 600, height: 400, channels: 3, background: '#2f7d6b' } })
      .png()
      .toBuffer();
    await screen.drop([{ name: 'green.png', bytes }]);
    await screen.text(/Put 1 in the tray/);
    const zoomed = async () => Number(/(\d+) %/.exec((await screen.text(/\d+ %/)) ?? '')?.[1]);
    await expect.poll(zoomed).toBeGreaterThan(10);
    // what is drawn anew in between has no box
    const place = async () => {
      const button = await screen.find('button', 'Put 1 in the tray');
      await button.scrollIntoView();
      return button.boundingBox();
    };
    await expect.poll(place).not.toBeNull();
    const box = (await place())!;
    expect(box.x).toBeGreaterThanOrEqual(0);
    expect(box.x + box.width).toBeLessThanOrEqual(width);
    expect(box.y + box.height).toBeLessThanOrEqual(height);
    await screen.page.setViewport(TABLET);
  });
});
