export { isLayout, LAYOUT_SCHEMA, readLayout } from './readLayout.ts';
