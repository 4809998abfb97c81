import type { Checker } from '#core/checker';
import type { Level } from '#core/level';
import { USUAL_BYTES } from '../../core/sizes';

export type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';

/** What a request sends: how it is described, how large it may be, and what it is held against. */
export interface Body<B> {
  types: readonly string[];
  maxBytes: number;
  /** The check of a JSON body; loaded by the route alone. */
  check?: () => Promise<Checker<B>>;
}

/** What comes back: JSON, text, nothing, or bytes and streams that the route describes by itself. */
export type Answer = 'json' | 'text' | 'nothing' | 'raw';

/** What pages can ask of the server; read by the route that answers, the guard before it, and whoever calls. */
export interface Endpoint<P extends string = string, Q extends string = string, B = unknown, A = unknown> {
  method: Method;
  /** As the router has it: `/libraries/:id/kits`. */
  path: P;
  /** The names of what may stand behind the question mark. */
  query: readonly Q[];
  body: Body<B> | null;
  answer: Answer;
  /** Of an answer without faults. */
  status: number;
  /** Doing it twice is as doing it once: it is sent again when no answer comes. */
  again: boolean;
  /** Answers name the database they come from. */
  namesDatabase: boolean;
  /** The route needs the database; without it, it is answered while that is unreachable. */
  usesDatabase: boolean;
  /**
   * Who may ask: the owner, who has signed in where there is a password; or also whoever came by a link that allows as much, to the
   * library or with the token in the path.
   */
  access: Access;
  /** The type of the answer, which no value has. */
  readonly _answer?: A;
}

export type Access = 'owner' | Level;

/** The names in a path: `id` of `/libraries/:id/kits`. */
export type Names<P extends string> = P extends `${string}:${infer Name}/${infer Rest}`
  ? Name | Names<Rest>
  : P extends `${string}:${infer Name}`
    ? Name
    : never;

interface Given<P extends string, Q extends string, B> {
  method: Method;
  path: P;
  query?: readonly Q[];
  body?: Body<B>;
  again?: boolean;
  namesDatabase?: boolean;
  usesDatabase?: boolean;
  access?: Access;
}

const STATUS: Record<Answer, number> = { json: 200, text: 200, nothing: 204, raw: 200 };

const answering =
  <A>(answer: Answer, status = STATUS[answer]) =>
  <P extends string, Q extends string = never, B = never>(given: Given<P, Q, B>): Endpoint<P, Q, B, A> => ({
    query: [],
    again: false,
    namesDatabase: false,
    usesDatabase: true,
    access: 'owner',
    ...given,
    body: given.body ?? null,
    answer,
    status,
  });

/** Answers with JSON of a type. @param status 201 where something is made */
export const givesJson = <A>(status?: number) => answering<A>('json', status);
export const givesText = (status?: number) => answering<string>('text', status);
export const givesNothing = (status?: number) => answering<null>('nothing', status);
/** Answers with what the route makes: bytes, lines, or a page's own headers. */
export const givesRaw = () => answering<Blob>('raw');

/** JSON that a check knows. */
export const json = <B>(check: () => Promise<Checker<B>>, maxBytes = USUAL_BYTES): Body<B> => ({
  types: ['application/json'],
  maxBytes,
  check,
});

/** JSON that nobody reads. */
export const anything: Body<object> = { types: ['application/json'], maxBytes: USUAL_BYTES };

/** Bytes of a type that no form of another site can send. */
export const bytes = (type: string, maxBytes: number): Body<Blob | Uint8Array<ArrayBuffer>> => ({
  types: [type],
  maxBytes,
});

/** A form with files in it. */
export const form = (maxBytes: number): Body<FormData> => ({ types: ['multipart/form-data'], maxBytes });
