/// <reference lib="webworker" />
import { FormatError } from '#core/formats/index';
import { Colors } from '~/state/colors';
import { fileAnswers } from './files-answers';
import { makeTypesetting } from './typesetting';
import { serve } from './worker-client';

const colors = new Colors();

serve(fileAnswers(makeTypesetting(), colors), (error) =>
  error instanceof FormatError
    ? error.message
    : `This cannot be done: ${error instanceof Error ? error.message : error}`,
);
