export * from './bills.ts';
export * from './catalogues.ts';
export * from './imports.ts';
export * from './jobs.ts';
export * from './projects.ts';
export * from './revisions.ts';
export * from './views.ts';
