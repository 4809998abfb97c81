import Button from '@mui/material/Button';
import { data, Link } from 'react-router';
import { Failure } from '~/features/frame/Failure';

/** Every address that is none. */
export const loader = () => data(null, { status: 404 });

export const meta = () => [{ title: 'Not here · Papillon' }];

export default function NowhereRoute() {
  return (
    <Failure
      title="This is not here"
      detail="There is no such page. What you look for may be in one of the libraries."
      search
    >
      <Button variant="contained" component={Link} to="/">
        To the libraries
      </Button>
    </Failure>
  );
}
