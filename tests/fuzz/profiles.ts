import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { instantiate } from 'lcms-wasm';
import { ColorEngine, conditionIn, conditionOf, ProfileError, toLab } from '../../core/color/index.ts';
import { findShared } from '../../scripts/tools.mjs';
import { mutate, NASTY } from './mutate.ts';

/** Debian's icc-profiles-free, and those that ship. */
const FOLDERS = ['profiles', findShared('color/icc')].filter((folder) => folder !== null);
const MAX_BYTES = 700_000;

/** Profiles of every kind that is at hand, the smaller ones. */
export async function profiles(): Promise<Uint8Array[]> {
  const found: Uint8Array[] = [];
  const look = (folder: string) => {
    for (const name of readdirSync(folder)) {
      const path = join(folder, name);
      if (statSync(path).isDirectory()) look(path);
      else if (/\.ic[cm]$/.test(name) && statSync(path).size <= MAX_BYTES)
        found.push(new Uint8Array(readFileSync(path)));
    }
  };
  for (const folder of FOLDERS) look(folder);
  return found;
}

/** Damages a profile: what its table of tags says, what its tags begin with, or anything. */
export function mutateProfile(bytes: Uint8Array, other: Uint8Array, next: () => number): Uint8Array {
  if (next() < 0.2) return mutate(bytes, other, next);
  const out = bytes.slice();
  const view = new DataView(out.buffer);
  const tags = Math.min(view.getUint32(128), 60);
  const nasty = () => NASTY[Math.floor(next() * NASTY.length)]!;
  const put = (at: number, value: number) => {
    if (at >= 0 && at + 4 <= out.length) view.setUint32(at, value);
  };
  for (let rounds = 1 + Math.floor(next() * 4); rounds > 0; rounds--) {
    const tag = 132 + 12 * Math.floor(next() * tags);
    const begin = tag + 8 <= out.length ? view.getUint32(tag + 4) : 0;
    switch (Math.floor(next() * 7)) {
      case 0:
        put(128, nasty());
        break;
      case 1:
        put(tag + 4, next() < 0.5 ? nasty() : view.getUint32(132 + 12 * Math.floor(next() * tags) + 4));
        break;
      case 2:
        put(tag + 8, nasty());
        break;
      case 3:
        // how many values a curve has, or how many channels and points a table
        put(begin + 8, nasty());
        break;
      case 4:
        put(begin + 4 * Math.floor(next() * 20), nasty());
        break;
      case 5:
        // one tag's content under another's name
        put(tag, view.getUint32(132 + 12 * Math.floor(next() * tags)));
        break;
      default:
        put(4 * Math.floor(next() * 32), next() < 0.5 ? nasty() : Math.floor(next() * 2 ** 32));
    }
  }
  return out;
}

/** This many go through one engine; what one leaves in it is none of the next one's. */
const EACH = 50;

/** Opens profiles as the server does before it keeps one, and brings colours through them. False when one is refused with a reason. */
export function profileReader(): (bytes: Uint8Array) => Promise<boolean> {
  let engine: ColorEngine | null = null;
  let used = 0;
  return async (bytes) => {
    if (!engine || ++used > EACH) {
      engine = new ColorEngine(await instantiate());
      used = 0;
    }
    try {
      const { hash, space } = engine.add(bytes);
      engine.canPrint(hash);
      const components = space === 'cmyk' ? [0.1, 0.7, 0.4, 0.2] : space === 'rgb' ? [0.2, 0.5, 0.9] : [0.4];
      const setting = conditionOf(
        space === 'cmyk' ? { condition: { ...conditionOf({}), profile: hash } } : {},
      );
      toLab({ space, components, profile: hash }, conditionIn(engine, setting));
      return true;
    } catch (error) {
      if (error instanceof ProfileError) return false;
      // a profile that brings the engine to a stop is reported so, and the engine given up
      if (
        error instanceof WebAssembly.RuntimeError ||
        /abort|memory|unreachable|table/i.test(String(error))
      ) {
        engine = null;
        return false;
      }
      throw error;
    }
  };
}
