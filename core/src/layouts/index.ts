export { areAlike, likesOf } from './likes.ts';
export type { LikeChoice } from './likes.ts';
export { isLayout, LAYOUT_SCHEMA, readLayout } from './readLayout.ts';
