import { createServer } from 'node:http';
import { createRequire } from 'node:module';
import type { AddressInfo } from 'node:net';
import type { Dialog, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readArtwork } from '../../core/artwork/index.ts';
import { FormatError } from '../../core/formats/index.ts';
import { Harness, type Screen } from './harness.ts';
import { hostileDrawings } from './hostile-drawings.ts';

// Drawings that act, in Chromium, with nothing to hold them back, and before DOMPurify, which finds what is left of them.

let harness: Harness;
let screen: Screen;
beforeAll(async () => {
  harness = await Harness.start();
  screen = await harness.page('/');
  await screen.page.goto('about:blank');
  await screen.page.addScriptTag({
    path: createRequire(import.meta.url).resolve('dompurify/dist/purify.min.js'),
  });
});
afterAll(() => harness?.stop());

const OUT = 'http://127.0.0.1:9/out';
const svg = (inside: string, attributes = '') =>
  `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="90" height="90"${attributes}>${inside}<rect id="kept" width="9" height="9" fill="#c8102e"/></svg>`;
/** Each sets `window.acted`, or asks for what lies outside. */
const hostile: Record<string, string> = {
  'a script': svg('<script>window.acted = 1</script>'),
  'a script in CDATA': svg('<script type="text/javascript"><![CDATA[window.acted = 1]]></script>'),
  'a script from elsewhere': svg(`<script xlink:href="${OUT}.js"/>`),
  'a script with a prefix': `<s:svg xmlns:s="http://www.w3.org/2000/svg"><s:script>window.acted = 1</s:script><s:rect id="kept" width="9" height="9" fill="#c8102e"/></s:svg>`,
  'an event of the root': svg('', ' onload="window.acted = 1"'),
  'an event of a shape': svg(
    '<image href="data:image/png;base64,x" onerror="window.acted = 1" width="9" height="9"/>',
  ),
  'an event in capitals': svg('<rect width="9" height="9" ONCLICK="window.acted = 1"/>'),
  'foreign objects': svg(
    '<foreignObject width="9" height="9"><img xmlns="http://www.w3.org/1999/xhtml" src="x" onerror="window.acted = 1"/></foreignObject>',
  ),
  'a link to a script': svg('<a xlink:href="javascript:window.acted=1"><rect width="9" height="9"/></a>'),
  'a link with blanks in it': svg(
    '<a href="java&#9;script&#x3a;window.acted=1"><rect width="9" height="9"/></a>',
  ),
  'an animated link': svg(
    '<a><animate attributeName="href" values="javascript:window.acted=1"/><rect width="9" height="9"/></a>',
  ),
  'a set event': svg(
    '<rect width="9" height="9"><set attributeName="onmouseover" to="window.acted=1"/></rect>',
  ),
  'a picture from elsewhere': svg(`<image href="${OUT}.png" width="9" height="9"/>`),
  'a drawing in a picture': svg(
    '<image href="data:image/svg+xml,%3Csvg xmlns=%22http://www.w3.org/2000/svg%22 onload=%22parent.acted=1%22/%3E" width="9" height="9"/>',
  ),
  'a use from elsewhere': svg(`<use href="${OUT}.svg#a"/>`),
  'a use of data': svg(`<use href="data:image/svg+xml;base64,PHN2Zy8+#x"/>`),
  'an imported sheet': svg(`<style>@import url("${OUT}.css");</style>`),
  'an imported sheet without url()': svg(`<style>@import "${OUT}.css";</style>`),
  'a paint from elsewhere': svg(
    `<rect width="9" height="9" style="fill:url(${OUT}.svg#p)" filter="url('${OUT}.svg#f')"/>`,
  ),
  'a background from elsewhere': svg(
    `<style>rect { background: u\\72l(${OUT}.png); cursor: url(${OUT}.cur), auto }</style>`,
  ),
  'a font from elsewhere': svg(
    `<style>@font-face { font-family: x; src: url(${OUT}.woff) } text { font-family: x }</style><text y="9">x</text>`,
  ),
  'an instruction': `<?xml-stylesheet type="text/css" href="${OUT}.css"?>${svg('')}`,
  'an entity of markup': `<!DOCTYPE svg [<!ENTITY x "&#60;script>window.acted = 1&#60;/script>">]>${svg('<title>&x;</title>')}`,
  'an external entity': `<!DOCTYPE svg [<!ENTITY x SYSTEM "${OUT}.txt">]>${svg('')}`,
  'a base elsewhere': svg('', ` xml:base="${OUT}/"`).replace('<rect id', '<use href="#kept"/><rect id'),
  'an embedded page': svg(
    '<iframe xmlns="http://www.w3.org/1999/xhtml" src="javascript:parent.acted=1"></iframe>',
  ),
};

/** What a drawing does in a page. */
async function shown(text: string) {
  const asked: string[] = [];
  const note = (request: { url(): string }) => {
    if (!request.url().startsWith('data:')) asked.push(request.url());
  };
  screen.page.on('request', note);
  const found = await screen.page.evaluate(async (markup) => {
    const holder = document.createElement('div');
    document.body.replaceChildren(holder);
    Reflect.deleteProperty(window, 'acted');
    // as a page would show it, and as a document of its own
    holder.innerHTML = markup.replace(/^<\?[^>]*\?>|^<!DOCTYPE[^>]*>/g, '');
    const parsed = new DOMParser().parseFromString(markup, 'image/svg+xml').documentElement;
    holder.append(document.importNode(parsed, true));
    for (const shape of holder.querySelectorAll('rect, a'))
      for (const event of ['mouseover', 'click'])
        shape.dispatchEvent(new MouseEvent(event, { bubbles: true }));
    await new Promise((resolve) => setTimeout(resolve, 120));
    return {
      acted: Reflect.get(window, 'acted') ?? null,
      kept: holder.querySelectorAll('[id=kept]').length,
    };
  }, text);
  screen.page.off('request', note);
  return { asked, ...found };
}

/** What DOMPurify would take out of each drawing. */
function removed(texts: string[]): Promise<string[][]> {
  return screen.page.evaluate((markups) => {
    interface Purify {
      sanitize(t: string, o: object): string;
      removed: { element?: Element; attribute?: Attr }[];
    }
    const purify: Purify = Reflect.get(window, 'DOMPurify');
    return markups.map((markup) => {
      purify.sanitize(markup, {
        USE_PROFILES: { svg: true, svgFilters: true },
        PARSER_MEDIA_TYPE: 'application/xhtml+xml',
      });
      return purify.removed.map((r) => r.element?.nodeName ?? r.attribute?.name ?? '?');
    });
  }, texts);
}

/** Serves drawings as documents of their own, and hears what they ask for. */
class Stage {
  private readonly documents: string[] = [];
  /** What was asked for, by the number of the drawing that asked. */
  private readonly asked = new Map<number, string[]>();
  private readonly server = createServer((request, response) => {
    const path = request.url ?? '';
    const [, number] = /^\/(\d+)\.svg$/.exec(path) ?? [];
    if (number !== undefined) {
      response.setHeader('Content-Type', 'image/svg+xml');
      response.end(this.documents[Number(number)]);
      return;
    }
    const [, by] = /(\d+)\.svg$/.exec(request.headers.referer ?? '') ?? /^\/hit\/(\d+)\//.exec(path) ?? [];
    if (path !== '/favicon.ico') {
      const list = this.asked.get(Number(by ?? -1)) ?? [];
      this.asked.set(Number(by ?? -1), [...list, path]);
    }
    response.statusCode = 404;
    response.end();
  });

  async start(): Promise<void> {
    await new Promise<void>((done) => this.server.listen(0, '127.0.0.1', done));
  }

  get url(): string {
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`;
  }

  stop(): void {
    this.server.closeAllConnections();
    this.server.close();
  }

  /** Opens a drawing, presses what can be pressed, and tells what it asked for or said. */
  async act(page: Page, text: string): Promise<string[]> {
    const number = this.documents.push(text) - 1;
    const said: string[] = [];
    const dialog = (d: Dialog) => {
      said.push(d.message());
      void d.dismiss();
    };
    page.on('dialog', dialog);
    await page
      .goto(`${this.url}/${number}.svg`, { waitUntil: 'load', timeout: 20_000 })
      .catch(() => undefined);
    await page
      .evaluate(() =>
        document.querySelector('#press')?.dispatchEvent(new MouseEvent('click', { bubbles: true })),
      )
      .catch(() => undefined);
    await new Promise((done) => setTimeout(done, 90));
    page.off('dialog', dialog);
    // to a part of itself is no way out
    if (!page.url().replace(/#.*/, '').endsWith(`/${number}.svg`)) said.push(`went to ${page.url()}`);
    return [...said, ...(this.asked.get(number) ?? [])];
  }
}

describe('a cleaned drawing, opened as a document of its own,', () => {
  const stage = new Stage();
  const pages: Page[] = [];
  beforeAll(async () => {
    await stage.start();
    for (let i = 0; i < 4; i++) pages.push((await harness.bare('/favicon.svg')).page);
  });
  afterAll(() => stage.stop());

  const each = async (texts: [string, string][], open: boolean) => {
    const acted: string[] = [];
    const left = texts.map((t, i) => [i, ...t] as const);
    await Promise.all(
      pages.map(async (page) => {
        for (let next = left.shift(); next; next = left.shift()) {
          const [, name, text] = next;
          let shownText = text;
          if (!open)
            try {
              shownText = readArtwork(text).text;
            } catch (error) {
              // refused altogether is as good
              if (!(error instanceof FormatError)) throw error;
              continue;
            }
          const found = await stage.act(page, shownText);
          if (found.length > 0) acted.push(`${name}: ${found.join(', ').slice(0, 200)}`);
        }
      }),
    );
    return acted;
  };

  it('runs nothing and asks for nothing, whatever it was', async () => {
    const drawings = hostileDrawings(`${stage.url}/hit/`);
    expect(drawings.length).toBeGreaterThan(250);
    expect(await each(drawings, false)).toEqual([]);
    // most of them act when they are not cleaned, or this would show nothing
    const without = await each(drawings, true);
    expect(without.length).toBeGreaterThan(130);
  }, 400_000);

  it('is the same when it is cleaned again, and holds nothing that DOMPurify knows as active', async () => {
    const wrong: string[] = [];
    const cleaned: [name: string, text: string][] = [];
    for (const [name, text] of hostileDrawings('http://127.0.0.1:9/'))
      try {
        cleaned.push([name, readArtwork(text).text]);
      } catch {
        // refused altogether is as good
      }
    for (const [name, clean] of cleaned) {
      const again = readArtwork(clean);
      if (again.text !== clean || again.warnings.some((t) => t.startsWith('Taken out')))
        wrong.push(`${name}: not the same`);
    }
    for (const [i, left] of (await removed(cleaned.map(([, text]) => text))).entries()) {
      const active = left.filter(
        (n) =>
          !/^(?:body|svg|style|s:\w+|f:\w+|use|set|animate|id|href|xlink:href|xmlns.*|#comment|#cdata-section|feImage|linearGradient|textPath)$/i.test(
            n,
          ),
      );
      if (active.length > 0) wrong.push(`${cleaned[i]![0]}: ${active.join(' ')}`);
    }
    expect(wrong).toEqual([]);
  }, 400_000);
});

describe('a cleaned drawing', () => {
  it.each(Object.entries(hostile))('does nothing: %s', async (_, text) => {
    let clean: string;
    try {
      clean = readArtwork(text).text;
    } catch (error) {
      // refused altogether is as good
      expect(error).toBeInstanceOf(FormatError);
      return;
    }
    const { asked, ...found } = await shown(clean);
    expect(asked).toEqual([]);
    expect(found.acted).toBeNull();
    expect(found.kept).toBeGreaterThan(0);
    // it takes away what it wraps a drawing in, and prefixes that it does not know; it lets no `use` and no animation of attributes pass at all; ours lead to the same drawing alone
    const [left] = await removed([clean]);
    expect(
      left!.filter((name) => !/^(?:body|s:\w+|use|set|animate|id|href|xlink:href|#comment)$/i.test(name)),
    ).toEqual([]);
  });

  it('is clean of what would do something here', async () => {
    expect((await shown(hostile['an event of a shape']!)).acted).toBe(1);
    expect((await shown(hostile['a picture from elsewhere']!)).asked).toEqual([`${OUT}.png`]);
    expect((await removed([hostile['foreign objects']!])).flat()).toContain('foreignObject');
  });
});
