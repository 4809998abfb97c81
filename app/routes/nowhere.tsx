import Button from '@mui/material/Button';
import { data, Link } from 'react-router';
import { Failure } from '~/features/shared/frame/Failure';

/** Every address that is none. */
export const loader = () => data(null, { status: 404 });

export const meta = () => [{ title: 'Not found · Papillon' }];

export default function NowhereRoute() {
  return (
    <Failure
      title="Not found"
      detail="This page does not exist. Your work may be in one of the libraries."
      search
    >
      <Button variant="contained" component={Link} to="/">
        Go to the libraries
      </Button>
    </Failure>
  );
}
