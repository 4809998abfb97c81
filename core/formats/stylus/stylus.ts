import { computedCss } from '../../color/computed-css.ts';
import { beginningOf, blankRemarks, commaParts, linesOf, plural } from '../../text/text.ts';
import { textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

// Variables and hashes as the published documentation of Stylus has them. No semicolons or brackets are needed there.

/** A name, and what it is: `deep = #14304a`, `$deep ?= #14304a`. */
const DECLARATION = /^[ \t]*([$\w\x80-\uffff-]{1,200})[ \t]*[?:]?=[ \t]*(.*?)[ \t]*;?[ \t]*$/;
/** An entry of a hash: `deep: #14304a`. */
const ENTRY = /^[ \t]*["']?([$\w\x80-\uffff-]{1,200})["']?[ \t]*:[ \t]*(.*?)[ \t]*[,;]?[ \t]*$/;
const MAX_DEPTH = 20;

interface Variable {
  name: string;
  value: string;
  group: string;
  remark: string;
}

/** The variables of a text, and the entries of its hashes under their names. */
function* variablesIn(text: string): Generator<Variable> {
  const path: string[] = [];
  for (const whole of linesOf(blankRemarks(text))) {
    const [, line = whole, remark = ''] = /^(.*?)(?:(?<![:"'])\/\/[ \t]?(.*))?$/.exec(whole) ?? [];
    // a hash on one line is its lines
    for (const part of line
      .replace(/([{}])/g, '\n$1\n')
      .split('\n')
      .flatMap((p) => (path.length > 0 ? commaParts(p) : [p]))) {
      const word = part.trim();
      if (word === '{') continue;
      if (word === '}') {
        path.pop();
        continue;
      }
      const [, name, value] = (path.length > 0 ? ENTRY : DECLARATION).exec(part) ?? [];
      if (!name) continue;
      if (value === '' && path.length < MAX_DEPTH) path.push(name);
      else if (value) yield { name: name.replace(/^\$/, ''), value, group: path.join(' / '), remark };
    }
  }
}

export const stylus: PlainFormat = {
  id: 'stylus',
  name: 'Stylus',
  about: 'Variables and hashes of web style sheets without brackets.',
  endings: ['styl'],
  mime: 'text/plain',
  traits: {
    ...{ read: true, write: false, names: true, groups: true },
    ...{ kinds: ['process'], spaces: ['rgb'], bits: 8 },
  },

  recognise(bytes) {
    const text = beginningOf(bytes);
    if (!text || !/^[ \t]*[$\w-]+[ \t]*[?:]?=[ \t]*[^\s"'=]/m.test(text)) return 0;
    for (const { value } of variablesIn(text)) if (computedCss(value)) return 0.75;
    return 0;
  },

  decode: textDecoder((text, draft) => {
    const all = [...variablesIn(text)];
    const known = new Map(all.filter((v) => v.group === '').map((v) => [v.name, v.value]));
    let passed = 0;
    for (const { name, value, group, remark } of all) {
      draft.step();
      let own = value.replace(/!\s*important\b/gi, '').trim();
      for (let n = 0; n < 50 && known.has(own.replace(/^\$/, '')); n++) {
        draft.step();
        own = known.get(own.replace(/^\$/, ''))!;
      }
      const css = computedCss(own);
      if (!css) {
        passed++;
        continue;
      }
      draft.into(group.replace(/\$/g, ''));
      draft.add({ name, ...(remark ? { note: remark } : {}), ...css });
    }
    if (passed > 0)
      draft.warn(
        `${plural(passed, 'variable is not a colour', 'variables are not colours')} and ${passed === 1 ? 'was' : 'were'} left out.`,
      );
  }),

  encode() {
    throw new Error('Stylus is only read.');
  },
};
