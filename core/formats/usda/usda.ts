import { PLAIN_SURFACE } from '../../swatch/surfaces.ts';
import { FormatError } from '../../text/error.ts';
import { beginningWith, short, uniquely, writeText } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { fromLinear, type Material, Materials, materialsOf, nameInScene } from '../materials.ts';

// Scenes as text: the published documentation of OpenUSD on its text file format, on UsdShade, and the specification of
// UsdPreviewSurface 2.6. Colours of a shader are linear light with the primaries of Rec. 709.

const SHADER = 'UsdPreviewSurface';
/** Marks files that Papillon wrote: their roles are in the library. */
const MARK = 'Materials of a library of Papillon';
const MAX_DEPTH = 200;
const MAX_WORDS = 8;
const ATTRIBUTES_PER_STEP = 8;
/** The colour and the roughness of the shader where none is given. */
const USUAL_LIGHT = [0.18, 0.18, 0.18];
const USUAL = { ...PLAIN_SURFACE, roughness: 0.5 };

/** A prim: its type, its name, and the attributes that stand directly in it. */
interface Prim {
  type: string;
  name: string;
  attributes: Map<string, string>;
  children: Prim[];
}

const prim = (type: string, name: string): Prim => ({ type, name, attributes: new Map(), children: [] });

/** Strings with their quotes, brackets, and what stands between them. */
const TOKEN =
  /"""[\s\S]*?"""|'''[\s\S]*?'''|"(?:[^"\\\n]|\\.)*"|'(?:[^'\\\n]|\\.)*'|@[^@\n]*@|#[^\n]*|[(){}[\]=;,]|<[^<>\n]*>|[^\s(){}[\]=;,"'#@<>]+|\n|[^\S\n]+|./g;
const CLOSING: Record<string, string> = { '(': ')', '[': ']', '{': '}' };
/** Words that say how an attribute goes with others of its name. */
const LIST_EDITS = /^(?:uniform|custom|varying|prepend|append|add|delete)$/;

const unquoted = (text = '') => text.replace(/^("{3}|'{3}|"|')([\s\S]*)\1$/, '$2').replace(/\\(.)/g, '$1');

/** The prims of a scene, one in another, with what is needed of them. */
class Scene {
  readonly root = prim('', '');
  private readonly tokens: IterableIterator<RegExpExecArray>;
  private line = 1;

  private attributes = 0;

  constructor(
    text: string,
    private readonly step: () => void,
  ) {
    this.tokens = text.matchAll(TOKEN);
    this.read();
  }

  /** The next token but for blanks and remarks; null at the end. */
  private next(): string | null {
    for (;;) {
      const { value, done } = this.tokens.next();
      if (done) return null;
      const token: string = value[0];
      for (let at = token.indexOf('\n'); at >= 0; at = token.indexOf('\n', at + 1)) this.line++;
      if (token === '\n' || !/^(?:#|\s)/.test(token)) return token;
    }
  }

  private damaged(why: string): FormatError {
    return new FormatError(`line ${this.line}: ${why}. It is damaged or cut short; export it again.`);
  }

  /** All up to the end of a bracket that has just begun. */
  private enclosed(open: string): string[] {
    const found: string[] = [];
    const ends = [CLOSING[open]!];
    for (;;) {
      const token = this.next();
      if (token === null) throw this.damaged(`a “${open}” has no end`);
      if (Object.hasOwn(CLOSING, token)) ends.push(CLOSING[token]!);
      else if (token === ends.at(-1)) ends.pop();
      if (ends.length === 0) return found;
      if (ends.length > MAX_DEPTH) throw this.damaged('brackets lie too deep');
      if (token !== '\n') found.push(token);
    }
  }

  private value(): string {
    const value = this.next();
    if (value === null || value === '\n') throw this.damaged('a value is missing');
    return Object.hasOwn(CLOSING, value) ? this.enclosed(value).join(' ') : value;
  }

  private read(): void {
    const open = [this.root];
    let words: string[] = [];
    let named: Prim | null = null;
    for (let token = this.next(); token !== null; token = this.next()) {
      const here = open.at(-1)!;
      if (token === '\n' || token === ';') {
        // a prim goes on in the next line, between its head and its body; an attribute does not
        if (!named) words = [];
      } else if (token === '=') {
        const key = words.filter((w) => !LIST_EDITS.test(w)).at(-1);
        const value = this.value();
        // a material has many, and each is little work
        if (++this.attributes % ATTRIBUTES_PER_STEP === 0) this.step();
        if (key) here.attributes.set(key, value);
        words = [];
      } else if (token === '(') {
        const facts = this.enclosed('(');
        const at = facts.indexOf('displayName');
        if (named && at >= 0 && facts[at + 1] === '=')
          named.attributes.set('displayName', facts[at + 2] ?? '');
      } else if (token === '[') this.enclosed('[');
      else if (token === '{') {
        if (open.length > MAX_DEPTH) throw this.damaged('prims lie too deep');
        this.step();
        const begun: Prim = named ?? prim('', '');
        here.children.push(begun);
        open.push(begun);
        [named, words] = [null, []];
      } else if (token === '}') {
        if (open.length === 1) throw this.damaged('a “}” has no beginning');
        open.pop();
        words = [];
      } else {
        words.push(token);
        // a head has few words, and a list without end is none
        if (words.length > MAX_WORDS) words.shift();
        const begins = words.findIndex((w) => w === 'def' || w === 'over' || w === 'class');
        if (begins >= 0 && /^["']/.test(token))
          named = prim(words.length - begins > 2 ? words[begins + 1]! : '', unquoted(token));
      }
    }
    if (open.length > 1) throw this.damaged(`“${open.at(-1)!.name.slice(0, 80)}” has no end`);
  }
}

/** All prims in one, however deep. */
function* within(one: Prim): Generator<Prim> {
  for (const child of one.children) {
    yield child;
    yield* within(child);
  }
}

const numbersIn = (value = '') => (value.match(/[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/gi) ?? []).map(Number);

export const usda: PlainFormat = {
  id: 'usda',
  name: 'USDA',
  about:
    'Scenes as text with a material for each swatch, in linear light. Keeps names, RGB, opacity, surfaces by role.',
  endings: ['usda'],
  mime: 'model/vnd.usda',
  traits: {
    ...{ read: true, write: true, names: true, groups: false, surfaces: true },
    ...{ kinds: ['process'], spaces: ['rgb'], bits: 20 },
  },

  recognise: beginningWith('#usda 1.'),

  decode: textDecoder((text, draft) => {
    const { root } = new Scene(text, () => draft.step());
    const own = text.includes(MARK);
    const materials = new Materials(draft, own, USUAL);
    for (const one of within(root)) {
      const called = unquoted(one.attributes.get('displayName')) || one.name;
      // one colour for all of a shape; many are of its faces or points
      const shown = numbersIn(one.attributes.get('primvars:displayColor'));
      if (shown.length === 3) draft.attempt(() => materials.add({ name: called, color: fromLinear(shown) }));
      if (one.type !== 'Material') continue;
      const shader = [...within(one)].find((p) => unquoted(p.attributes.get('info:id')) === SHADER);
      if (!shader) continue;
      const diffuse = shader.attributes.get('inputs:diffuseColor');
      if (diffuse === undefined && shader.attributes.has('inputs:diffuseColor.connect')) {
        materials.isPictured();
        continue;
      }
      const scalar = (name: string) => numbersIn(shader.attributes.get(`inputs:${name}`))[0];
      draft.attempt(() => {
        const light = diffuse === undefined ? USUAL_LIGHT : numbersIn(diffuse);
        if (light.length !== 3)
          throw new FormatError(`the colour of “${called.slice(0, 80)}” is not of three numbers.`);
        const [metalness, roughness] = [scalar('metallic'), scalar('roughness')];
        const surface: Material['surface'] =
          metalness === undefined && roughness === undefined ? undefined : { metalness, roughness };
        materials.add({ name: called, color: fromLinear(light), alpha: scalar('opacity'), surface });
      });
    }
    materials.done();
    if (draft.isEmpty && !own) throw new FormatError('none of its materials has a colour that is read.');
  }),

  encode(library, { condition }) {
    const unique = uniquely('_');
    const prims = materialsOf(library, condition).map(({ name, linear, alpha, surface }) => {
      const own = unique(nameInScene(name));
      const inputs = [
        `color3f inputs:diffuseColor = (${linear.map((v) => short(v, 7)).join(', ')})`,
        ...(surface ? [`float inputs:metallic = ${short(surface.metalness, 4)}`] : []),
        ...(surface ? [`float inputs:roughness = ${short(surface.roughness, 4)}`] : []),
        ...(alpha < 1 ? [`float inputs:opacity = ${short(alpha, 6)}`] : []),
      ];
      // what a prim is called by people may have any letter
      const called = name
        .toWellFormed()
        .replace(/[\0-\x1f\x7f]+/g, ' ')
        .replace(/["\\]/g, '\\$&');
      return `    def Material "${own}" (
        displayName = "${called}"
    )
    {
        token outputs:surface.connect = </Materials/${own}/Surface.outputs:surface>

        def Shader "Surface"
        {
            uniform token info:id = "${SHADER}"
${inputs.map((line) => `            ${line}\n`).join('')}            token outputs:surface
        }
    }
`;
    });
    return writeText(
      `#usda 1.0\n(\n    defaultPrim = "Materials"\n    doc = "${MARK}"\n)\n\ndef Scope "Materials"\n{\n${prims.join('\n')}}\n`,
    );
  },
};
