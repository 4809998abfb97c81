import { useCallback, useRef, useState } from 'react';
import { useToast } from './toast';

export interface JobState {
  title: string;
  /** What is being done just now. */
  stage: string;
}

interface Running {
  stage(text: string): void;
  /** Whether it has been stopped, or another one begun. */
  isWanted(): boolean;
}

/**
 * Work that takes its time: one at a time, with what it does and a way to stop it. What goes wrong is reported; what was stopped
 * on purpose is not.
 *
 * @param end ends what it has begun elsewhere
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
