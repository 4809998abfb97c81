// Functions of ISO 32000-1, 7.10, as far as they turn amounts of ink into a colour of another space.

/** How a function's objects are looked into, whatever they are made of. */
export interface Objects<T> {
  number(object: T | undefined): number | null;
  numbers(object: T | undefined): number[];
  entry(object: T | undefined, key: string): T | undefined;
  list(object: T | undefined): T[];
  /** The content of a stream, unpacked. */
  bytes(object: T | undefined): Uint8Array;
}

export type Tint = (amounts: number[]) => number[] | null;

const MAX_DEPTH = 10;

/** The function of an object; null when it is of a kind that is not read, or damaged. */
export function tintFunction<T>(objects: Objects<T>, object: T | undefined, depth = 0): Tint | null {
  const get = (key: string) => objects.entry(object, key);
  const numbers = (key: string) => objects.numbers(get(key));
  if (depth > MAX_DEPTH) return null;
  switch (objects.number(get('FunctionType'))) {
    case 0:
      return sampled(objects, object);
    case 2: {
      const [from, to, n] = [numbers('C0'), numbers('C1'), objects.number(get('N')) ?? 1];
      const [a, b] = [from.length > 0 ? from : [0], to.length > 0 ? to : [1]];
      return ([x = 0]) => b.map((v, i) => (a[i] ?? 0) + x ** n * (v - (a[i] ?? 0)));
    }
    case 3: {
      const inner = objects.list(get('Functions')).map((f) => tintFunction(objects, f, depth + 1));
      const [bounds, encode, domain] = [numbers('Bounds'), numbers('Encode'), numbers('Domain')];
      return ([x = 0]) => {
        const k = bounds.filter((b) => x >= b).length;
        const [low, high] = [bounds[k - 1] ?? domain[0] ?? 0, bounds[k] ?? domain[1] ?? 1];
        const [e0 = 0, e1 = 1] = encode.slice(2 * k, 2 * k + 2);
        return inner[k]?.([high > low ? e0 + ((x - low) / (high - low)) * (e1 - e0) : e0]) ?? null;
      };
    }
    case 4:
      return calculator(new TextDecoder('latin1').decode(objects.bytes(object)));
    default:
      return null;
  }
}

/** A table of samples (7.10.2), taken at the nearest of them. */
function sampled<T>(objects: Objects<T>, object: T | undefined): Tint | null {
  const numbers = (key: string) => objects.numbers(objects.entry(object, key));
  const [size, range] = [numbers('Size'), numbers('Range')];
  const bits = objects.number(objects.entry(object, 'BitsPerSample')) ?? 8;
  const decode = numbers('Decode').length > 0 ? numbers('Decode') : range;
  const outputs = range.length / 2;
  const data = objects.bytes(object);
  if (![8, 16, 32].includes(bits) || size.length === 0 || !(outputs >= 1)) return null;
  const width = bits / 8;
  return (amounts) => {
    let at = 0;
    let stride = 1;
    size.forEach((n, i) => {
      at += Math.round(Math.min(1, Math.max(0, amounts[i] ?? 0)) * (n - 1)) * stride;
      stride *= n;
    });
    const values: number[] = [];
    for (let k = 0; k < outputs; k++) {
      let v = 0;
      for (let b = 0; b < width; b++) v = v * 256 + (data[(at * outputs + k) * width + b] ?? Number.NaN);
      values.push(decode[2 * k]! + (v / (2 ** bits - 1)) * (decode[2 * k + 1]! - decode[2 * k]!));
    }
    return values.every(Number.isFinite) ? values : null;
  };
}

/** The function of a calculator's program (7.10.5), a part of PostScript; null when it is none. */
export function calculator(text: string): Tint | null {
  const program = parseProgram(text);
  return program && ((amounts) => run(program, amounts));
}

type Program = (string | number | Program)[];
const MAX_PROGRAM_CHARACTERS = 20_000;

/** A calculator's program (7.10.5) as lists in lists. */
function parseProgram(text: string): Program | null {
  const root: Program = [];
  const open: Program[] = [root];
  let words = 0;
  for (const [word] of text.replace(/%[^\r\n]*/g, ' ').matchAll(/[{}]|[^\s{}]+/g)) {
    if (++words > MAX_PROGRAM_CHARACTERS || open.length > 50) return null;
    if (word === '{') {
      const inner: Program = [];
      open.at(-1)!.push(inner);
      open.push(inner);
    } else if (word === '}') {
      if (open.length === 1) return null;
      open.pop();
    } else open.at(-1)!.push(Number.isNaN(Number(word)) ? word : Number(word));
  }
  return open.length === 1 && Array.isArray(root[0]) ? root[0] : null;
}

const TWO: Record<string, (a: number, b: number) => number> = {
  add: (a, b) => a + b,
  sub: (a, b) => a - b,
  mul: (a, b) => a * b,
  div: (a, b) => a / b,
  idiv: (a, b) => Math.trunc(a / b),
  mod: (a, b) => a % b,
  exp: (a, b) => a ** b,
  atan: (a, b) => ((Math.atan2(a, b) * 180) / Math.PI + 360) % 360,
  eq: (a, b) => Number(a === b),
  ne: (a, b) => Number(a !== b),
  gt: (a, b) => Number(a > b),
  ge: (a, b) => Number(a >= b),
  lt: (a, b) => Number(a < b),
  le: (a, b) => Number(a <= b),
  and: (a, b) => a & b,
  or: (a, b) => a | b,
  xor: (a, b) => a ^ b,
};
const ONE: Record<string, (a: number) => number> = {
  abs: Math.abs,
  neg: (a) => -a,
  ceiling: Math.ceil,
  floor: Math.floor,
  round: Math.round,
  truncate: Math.trunc,
  cvi: Math.trunc,
  cvr: (a) => a,
  sqrt: Math.sqrt,
  sin: (a) => Math.sin((a * Math.PI) / 180),
  cos: (a) => Math.cos((a * Math.PI) / 180),
  ln: Math.log,
  log: Math.log10,
  not: (a) => Number(!a),
};
const DEEPEST_STACK = 200;

function run(program: Program, amounts: number[]): number[] | null {
  const stack = [...amounts];
  const go = (part: Program): boolean => {
    for (let i = 0; i < part.length; i++) {
      const word = part[i]!;
      if (stack.length > DEEPEST_STACK) return false;
      if (typeof word === 'number') stack.push(word);
      else if (typeof word !== 'string') {
        // blocks stand before their if or ifelse
        const [next, after] = [part[i + 1], part[i + 2]];
        if (next === 'if') {
          if (stack.pop() && !go(word)) return false;
          i++;
        } else if (Array.isArray(next) && after === 'ifelse') {
          if (!go(stack.pop() ? word : next)) return false;
          i += 2;
        } else return false;
      } else if (!step(word, stack)) return false;
    }
    return true;
  };
  return go(program) && stack.every(Number.isFinite) ? stack : null;
}

/** One operator (7.10.5.2); false when it is unknown or finds too little. */
function step(word: string, stack: number[]): boolean {
  const two = TWO[word];
  if (two) {
    const [b, a] = [stack.pop(), stack.pop()];
    if (a === undefined || b === undefined) return false;
    stack.push(two(a, b));
    return true;
  }
  const top = stack.pop();
  if (word === 'true' || word === 'false') {
    if (top !== undefined) stack.push(top);
    stack.push(Number(word === 'true'));
    return true;
  }
  if (top === undefined) return false;
  const one = ONE[word];
  if (one) stack.push(one(top));
  else if (word === 'dup') stack.push(top, top);
  else if (word === 'exch') {
    const below = stack.pop();
    if (below === undefined) return false;
    stack.push(top, below);
  } else if (word === 'copy') {
    if (!(top >= 0 && top <= stack.length)) return false;
    stack.push(...stack.slice(stack.length - top));
  } else if (word === 'index') {
    const value = stack[stack.length - 1 - top];
    if (value === undefined) return false;
    stack.push(value);
  } else if (word === 'roll') {
    const n = stack.pop() ?? -1;
    if (!(n >= 0 && n <= stack.length)) return false;
    const part = stack.splice(stack.length - n);
    const by = n > 0 ? ((top % n) + n) % n : 0;
    stack.push(...part.slice(n - by), ...part.slice(0, n - by));
  } else if (word !== 'pop') return false;
  return true;
}
