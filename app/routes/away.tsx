import Button from '@mui/material/Button';
import { useEffect } from 'react';
import { useSearchParams } from 'react-router';
import { chooseSurround } from '~/api/session';
import { Failure } from '~/features/shared/frame/Failure';

const PAUSE_MS = 3000;

export const meta = () => [{ title: 'The server cannot be reached · Papillon' }];

/** What the service worker shows while the server does not answer. It goes on by itself as soon as it does. */
export default function AwayRoute() {
  const [search] = useSearchParams();
  const to = search.get('to') ?? '/';
  // an address of another place is none to go to
  const back = /^\/(?![/\\])/.test(to) ? to : '/';
  useEffect(() => {
    const look = async () => {
      const answer = await fetch(chooseSurround.path, { method: 'HEAD' }).catch(() => null);
      if (answer && answer.status < 500) location.replace(back);
    };
    void look();
    const timer = setInterval(() => void look(), PAUSE_MS);
    return () => clearInterval(timer);
  }, [back]);
  return (
    <Failure
      title="The server cannot be reached"
      detail="Papillon reconnects by itself and reloads this page. Your changes are kept in this browser and will be saved then."
    >
      <Button variant="contained" onClick={() => location.replace(back)}>
        Try again
      </Button>
    </Failure>
  );
}
