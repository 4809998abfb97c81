import { COLOR_FUNCTION, computedCss, lightAndDark } from '../../color/computed-css.ts';
import { CSS_SPACES, type fromCss, toCss } from '../../color/index.ts';
import { cssFallback, cssGradient, readCssGradient } from '../../gradient/index.ts';
import { rulesOf, type StyleRule, withVariables } from '../../svg/stylesheet.ts';
import { gradientsOf, resolvedStops } from '../../swatch/gradient.ts';
import { allSwatches } from '../../swatch/model.ts';
import { identifierOptions, identifiers, unquoted } from '../../text/identifier.ts';
import { beginningOf, blankRemarks, plural, writeText } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

/** A custom property as it is declared for one medium or theme. */
interface Property {
  name: string;
  value: string;
  /** Where it stands: what the colour is for, empty for a plain light screen. */
  group: string;
  selector: string;
  important: boolean;
  /** The name as it was, from the comment that our own writer puts behind a declaration. */
  own?: string;
}

/** Selectors of the whole page, or of the theme that is light. */
const WHOLE_PAGE =
  /^(?::root|:host|html|body|\*|::?backdrop|::?before|::?after|(?:\w*|:root)(?:\.[\w-]*\blight\b[\w-]*|\[[^\]]*\blight\b[^\]]*\])|:where\(:root[^)]*\)|:is\(:root[^)]*\))$/i;
const DARK = /(?:^|[\s._"'[=-])(?:dark|night)(?:$|[\s."'\]:>+~,)_-])/i;

/** What a rule is for: its medium, and the theme its selectors name. */
function placeOf({ selectors, medium }: StyleRule): { group: string; selector: string } {
  const texts = selectors.map((s) => s.text);
  const page = texts.some((t) => WHOLE_PAGE.test(t));
  const dark = !page && texts.length > 0 && texts.every((t) => DARK.test(t));
  const group = dark && !medium.includes('dark') ? ['dark', medium].filter(Boolean).join(', ') : medium;
  return { group, selector: page || dark ? '' : texts.join(', ') };
}

/** The custom properties of a style sheet, each where it is declared last; of other selectors only what differs. */
function propertiesOf(text: string): Property[] {
  const found = new Map<string, Property>();
  for (const rule of rulesOf(text)) {
    const { group, selector } = placeOf(rule);
    for (const { property, value, remark, important } of rule.declared) {
      if (!property.startsWith('--')) continue;
      const own = remark === undefined ? undefined : unquoted(remark);
      const one: Property = {
        name: property.includes('\\') ? property.slice(2).replace(/\\(.)/g, '$1') : property.slice(2),
        value,
        group,
        selector,
        important,
        ...(own === undefined ? {} : { own }),
      };
      const key = group ? `${group}\n${property}` : property;
      const before = found.get(key);
      // what is important yields to nothing but the same (CSS Cascade 4, 6.1)
      if (before?.selector === selector && before.important && !important) continue;
      if (!before || before.selector === selector) {
        // a property that is declared again takes its own place again
        found.set(
          key,
          before && own === undefined && before.own !== undefined ? { ...one, own: before.own } : one,
        );
      } else if (before.value !== value) {
        // a theme of its own; what only a part of a page has is thrown together
        const theme = THEME.test(selector) ? selector : 'other rules';
        found.set(`${key}\n${theme}${theme === selector ? '' : value}`, {
          ...one,
          group: [group, theme].filter(Boolean).join(': '),
        });
      }
    }
  }
  return [...found.values()];
}

/** A selector that can be a theme: one class or attribute of the page. */
const THEME = /^(?:\w*|:root)(?:\.[\w-]{1,60}|\[[^\]]{1,60}\])$/;

/** Three numbers that only become a colour in `hsl()`, as many sheets keep them. */
const HSL_PARTS = /^-?[\d.]+(?:deg)?[\s,]+[\d.]+%[\s,]+[\d.]+%$/;

function colorIn(value: string): ReturnType<typeof fromCss> {
  return computedCss(HSL_PARTS.test(value) ? `hsl(${value})` : value);
}

export const css: PlainFormat = {
  id: 'css',
  name: 'CSS',
  about: 'Custom properties for web and interface work. Keeps names, Lab values and gradients, no groups.',
  endings: ['css'],
  mime: 'text/css',
  options: identifierOptions,
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: ['process'],
    spaces: [...CSS_SPACES],
    bits: 64,
  },

  recognise(bytes) {
    const text = beginningOf(bytes);
    if (!text?.includes('--')) return 0;
    for (const [, value] of blankRemarks(text.replace(/^\s*\/\/.*$/gm, '')).matchAll(
      /(?<![\w-])--[\w\x80-\uffff-]{1,200}\s{0,20}:\s{0,20}([^;{}]{1,300})/g,
    ))
      if (/-gradient\(/i.test(value!) || colorIn(value!.replace(/!\s*important\s*$/, '').trim())) return 0.85;
    return 0;
  },

  ownWords: true,
  decode: textDecoder((text, draft, options) => {
    const properties = propertiesOf(text).flatMap((one) => {
      const both = lightAndDark(one.value);
      if (!both) return [one];
      return [
        { ...one, value: both[0] },
        { ...one, value: both[1], group: one.group || 'dark' },
      ];
    });
    const byGroup = new Map<string, Map<string, string>>();
    // most sheets refer to nothing
    if (text.includes('var('))
      for (const { group, name, value } of properties) {
        const known = byGroup.get(group) ?? new Map<string, string>();
        known.set(name, value);
        byGroup.set(group, known);
      }
    const plain = byGroup.get('');
    const declaredAs = (group: string, name: string) => byGroup.get(group)?.get(name) ?? plain?.get(name);
    const colors = new Map<string, NonNullable<ReturnType<typeof fromCss>>>();
    const gradients: { name: string; value: string; group: string }[] = [];
    const leads = /-gradient\(/i.test(text);
    let passed = 0;
    for (const { name, value, group, own } of properties) {
      draft.step();
      const called = (options?.asOthers ? undefined : own) ?? name;
      if (leads && /-gradient\(/i.test(value)) {
        gradients.push({ name: called, value, group });
        continue;
      }
      const given = withVariables(value, (v) => declaredAs(group, v.replace(/^--/, '')));
      const color = given === null ? null : colorIn(given.trim());
      if (!color) {
        if (COLOR_FUNCTION.test(value)) {
          draft.warn(`Left out: --${name}, since “${value.slice(0, 80)}” leads to no colour.`);
          continue;
        }
        passed++;
        continue;
      }
      if (group === '' && leads) colors.set(name, color);
      draft.into(group);
      draft.add({ name: called, ...color });
    }
    const bare = draft.count === 0;
    for (const { name, value, group } of gradients) {
      draft.step(100);
      draft.into(group);
      const read = readCssGradient(value, (variable) => colors.get(variable) ?? null, computedCss);
      if (!read) {
        draft.warn(
          `Left out: the gradient --${name}, whose stops are not all colours at places in percent: “${value.slice(0, 80)}”.`,
        );
        continue;
      }
      // a sheet of gradients alone: their colours are its swatches
      if (bare)
        read.stops.forEach(({ color, alpha }, i) => {
          draft.add({ name: `${name} ${i + 1}`, color, ...(alpha === undefined ? {} : { alpha }) });
        });
      draft.addGradient({ ...read, name });
    }
    if (passed)
      draft.warn(
        `${plural(passed, 'custom property is not a colour', 'custom properties are not colours')} and ${passed === 1 ? 'was' : 'were'} left out.`,
      );
  }),

  encode(library, { condition }, options) {
    const { of } = identifiers(options, { digitFirst: true });
    const properties = new Map<string, string>();
    const line = (property: string, value: string, name: string) =>
      `  --${property}: ${value};${property === name ? '' : ` /* ${quoted(name)} */`}\n`;
    const swatches = allSwatches(library);
    const lines = swatches.map(({ id, name, color, alpha }) => {
      const property = of(name);
      properties.set(id, property);
      return line(property, toCss(color, condition, alpha), name);
    });
    const byId = new Map(swatches.map((s) => [s.id, s]));
    const gradients = gradientsOf(library).map((gradient) => {
      const stops = resolvedStops(gradient, (id) => byId.get(id));
      const property = of(gradient.name);
      return {
        plain: line(property, cssFallback(gradient, stops, condition), gradient.name),
        own: line(
          property,
          cssGradient(
            gradient,
            stops,
            condition,
            ({ swatch }) => swatch && `var(--${properties.get(swatch.id)})`,
          ),
          gradient.name,
        ),
      };
    });
    const plain = `:root {\n${lines.join('')}${gradients.map((g) => g.plain).join('')}}\n`;
    if (gradients.length === 0) return writeText(plain);
    const own = gradients.map((g) => g.own).join('');
    return writeText(
      `${plain}@supports (background: linear-gradient(in oklab, red, blue)) {\n:root {\n${own}}\n}\n`,
    );
  },
};

/** A JSON string that cannot end the comment it stands in. */
const quoted = (name: string) => JSON.stringify(name).replaceAll('*/', '*\\/');
