import { usesOf } from '#server/books';
import * as api from '~/api/books';
import { answers, on } from '~/api/handle';

export const loader = answers(on(api.readUses, ({ db, params, query }) => usesOf(db, params.id, query.code)));
