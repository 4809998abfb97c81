import { useCallback, useRef, useState } from 'react';
import { useToast } from './toast';

export interface JobState {
  title: string;
  /** What it is doing. */
  stage: string;
}

interface Running {
  stage(text: string): void;
  /** False after a stop, and when another job has started. */
  isWanted(): boolean;
}

/**
 * Runs long jobs one at a time, with their stage and a way to stop them. Errors are shown as a toast, except after a stop.
 *
 * @param end stops work that the job started elsewhere, such as in a worker
 */
export function useJob(end: () => void) {
  const [job, setJob] = useState<JobState | null>(null);
  const run = useRef(0);
  const toast = useToast();
  const ends = useRef(end);
  ends.current = end;
  const start = useCallback(
    async (
      title: string,
      work: (running: Running) => Promise<void>,
      problem: (why: string) => string = (why) => why,
    ): Promise<void> => {
      const mine = ++run.current;
      const isWanted = () => mine === run.current;
      const stage = (text: string) => {
        if (isWanted()) setJob({ title, stage: text });
      };
      stage('');
      try {
        await work({ stage, isWanted });
      } catch (error) {
        const { name, message } = error as Error;
        if (isWanted() && name !== 'StoppedError') toast({ text: problem(message), stays: true });
      }
      if (isWanted()) setJob(null);
    },
    [toast],
  );
  const stop = useCallback(() => {
    run.current++;
    ends.current();
    setJob(null);
  }, []);
  return { job, start, stop };
}
