import { addressOf, routes } from '../../../contract/src/index.ts';

/** Where the small picture of a shape is. */
export const thumbnailAt = (shape: string): string => addressOf(routes.views.thumbnail, { params: { shape } });
/** Where a picture is that somebody brought in. */
export const pictureAt = (blob: string): string => addressOf(routes.pictures.load, { params: { blob } });
/** Where lines, or places for leaders, of a view are, once it is drawn. */
export const drawnAt = (key: string, what: 'lines' | 'spots'): string =>
  addressOf(routes.views.drawn, { params: { key, what } });
