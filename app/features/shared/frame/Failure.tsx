import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { Form } from 'react-router';
import { Empty } from '~/ui/empty';
import { Frame, Stage } from '~/ui/Frame';
import { Field } from '~/ui/field';
import css from './Failure.module.css';
import { Header } from './Header';

/** A page that cannot be shown: why, and where to go on. It stands alone, for it comes where the rest has failed. */
export function Failure({
  title,
  detail,
  search,
  children,
}: {
  title: string;
  detail: ReactNode;
  /** Looks for what is not here. */
  search?: boolean;
  children?: ReactNode;
}) {
  return (
    <Frame>
      <Header />
      <Stage wide>
        <div className={css.failure}>
          <Empty title={title} text={detail}>
            {children}
          </Empty>
          {search && (
            <Form action="/" role="search" className={css.search} reloadDocument>
              <Field
                name="q"
                aria-label="Search the libraries"
                placeholder="Library, group, swatch, role, code, #hex"
              />
              <Button type="submit">Search</Button>
            </Form>
          )}
        </div>
      </Stage>
    </Frame>
  );
}
