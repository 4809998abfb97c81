import { redirect } from 'react-router';
import type { Route } from './+types/library-index';

export const loader = ({ params }: Route.LoaderArgs) => redirect(`/libraries/${params.id}/arrange`);
