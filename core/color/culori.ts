// The spaces of CSS and HSV, and none of the others that culori knows: it stays small wherever it is loaded.
import 'culori/css';

export { type Color as CuloriColor, converter, parse } from 'culori/fn';
