/// <reference lib="webworker" />
import { FormatError } from '#core/formats/index';
import { Colors } from '~/colors/colors';
import { fileAnswers } from './files-answers';
import { makeTypesetting } from './typesetting';
import { serve } from './worker-client';

const colors = new Colors();

const artwork = async (hash: string) => {
  const response = await fetch(`/artworks/${hash}`);
  if (response.status === 404) return null;
  if (!response.ok) throw new FormatError('the artwork could not be fetched. Check the connection.');
  return new Uint8Array(await response.arrayBuffer());
};

serve(fileAnswers(makeTypesetting(), colors, artwork), (error) =>
  error instanceof FormatError
    ? error.message
    : `This cannot be done: ${error instanceof Error ? error.message : error}`,
);
