import { ShapeError } from '../core/swatch/schema.ts';
import { RefusedError } from './changes.ts';

/** Answers a request, and what is wrong with it in words: 400 for its shape, 404 and 410 for a library that is not there. */
export async function answered(run: () => Promise<Response>): Promise<Response> {
  try {
    return await run();
  } catch (error) {
    if (error instanceof RefusedError) {
      const status = error.library === 'never' ? 404 : error.library === 'deleted' ? 410 : 409;
      return new Response(error.message, { status });
    }
    if (error instanceof ShapeError || error instanceof SyntaxError)
      return new Response(error.message, { status: 400 });
    throw error;
  }
}
