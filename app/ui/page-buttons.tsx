import Button from '@mui/material/Button';

/** Turns the pages of a document; not there where it has one. */
export function PageButtons({
  page,
  count,
  onTurn,
}: {
  page: number;
  count: number;
  onTurn(page: number): void;
}) {
  if (count < 2) return null;
  return (
    <span>
      <Button size="small" disabled={page === 0} onClick={() => onTurn(page - 1)}>
        Page before
      </Button>
      <Button size="small" disabled={page >= count - 1} onClick={() => onTurn(page + 1)}>
        Next page
      </Button>
    </span>
  );
}
