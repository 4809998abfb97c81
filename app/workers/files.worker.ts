/// <reference lib="webworker" />
import { FormatError } from '#core/formats/index';
import { fileAnswers } from './files-answers';
import { makeTypesetting } from './typesetting';
import { serve } from './worker-client';

serve(fileAnswers(makeTypesetting()), (error) =>
  error instanceof FormatError
    ? error.message
    : `This cannot be done: ${error instanceof Error ? error.message : error}`,
);
