/// <reference lib="webworker" />
import { Colors } from '~/colors/colors';
import { checkAnswers } from './check-answers';
import { serve } from './worker-client';

serve(
  checkAnswers(new Colors()),
  (error) => `This cannot be checked: ${error instanceof Error ? error.message : error}`,
);
