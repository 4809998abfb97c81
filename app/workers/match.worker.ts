/// <reference lib="webworker" />
import { Colors } from '~/colors/colors';
import { matchAnswers } from './match-answers';
import { serve } from './worker-client';

serve(
  matchAnswers(new Colors()),
  (error) => `This cannot be matched: ${error instanceof Error ? error.message : error}`,
);
