import type { RequestHandler } from 'express';
import { tell } from '../answers.ts';
import { fileOfLink } from '../link-files.ts';
import { countUse, openLink } from '../links.ts';
import { log } from '../log.ts';
import { database } from '../open.ts';
import { refuse } from './guards.ts';
import { NO_LINK, PRIVATE } from './link.ts';

/** A proxy or a page may use a file again after asking whether it is still the same. */
const CACHE = 'no-cache';

/**
 * Files by links of their own, for builds, scripts and style sheets: `/f/TOKEN/NAME`. Pages of other sites may load them, and read
 * them where the link says so; so it stands before the guard that keeps other sites out.
 */
export const fileLinks: RequestHandler = async (request, response, next) => {
  const [, token = ''] = /^\/([\w-]+)(?:\/[^/]*)?$/.exec(request.path) ?? [];
  try {
    for (const [name, value] of Object.entries(PRIVATE)) response.setHeader(name, value);
    if (request.method !== 'GET' && request.method !== 'HEAD') {
      response.setHeader('Allow', 'GET, HEAD');
      return refuse(response, 405, 'A file link is only read.');
    }
    const db = await database();
    const link = await openLink(db, token, 'file');
    const file = link && (await fileOfLink(db, link));
    if (!link || !file) return refuse(response, 404, NO_LINK);
    await countUse(db, link.id);
    response.setHeader('Cache-Control', CACHE);
    response.setHeader('ETag', file.etag);
    response.setHeader('Cross-Origin-Resource-Policy', 'cross-origin');
    if (link.data.cors) response.setHeader('Access-Control-Allow-Origin', '*');
    if (
      request.headers['if-none-match']?.split(',').some((tag) => tag.trim().replace(/^W\//, '') === file.etag)
    ) {
      response.removeHeader('Content-Type');
      response.statusCode = 304;
      return void response.end();
    }
    response.setHeader('Content-Type', file.mime);
    response.setHeader(
      'Content-Disposition',
      `inline; filename*=UTF-8''${encodeURIComponent(file.name).replaceAll("'", '%27')}`,
    );
    response.setHeader('Content-Length', file.bytes.length);
    response.end(request.method === 'HEAD' ? undefined : file.bytes);
  } catch (error) {
    const fault = tell(error);
    if (fault.status >= 500) log.warn({ status: fault.status }, 'A file link could not be answered');
    if (response.headersSent) return next(error);
    refuse(response, fault.status, fault.text);
  }
};
