import { urlOf, routes } from '../../../contract/src/index.ts';

/** Where the small picture of a shape is. */
export const thumbnailAt = (shape: string): string => urlOf(routes.views.thumbnail, { params: { shape } });
/** Where a picture is that somebody brought in. */
export const pictureAt = (blob: string): string => urlOf(routes.pictures.load, { params: { blob } });
/** Where lines, or places for leaders, of a view are, once it is drawn. */
export const drawnAt = (key: string, what: 'lines' | 'spots'): string =>
  urlOf(routes.views.drawn, { params: { key, what } });
