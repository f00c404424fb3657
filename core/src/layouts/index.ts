export { areAlike, likesOf } from './likes.ts';
export type { LikeChoice } from './likes.ts';
export { isLayout, readLayout } from './readLayout.ts';
