import { listPictures } from '#server/pictures';
import * as api from '~/api/assets';
import { answers, on } from '~/api/handle';

export const loader = answers(on(api.listPictures, ({ db, params }) => listPictures(db, params.id)));
