/** Types of files by the name of their format, as they are sent. */
export const mediaTypes = {
  csv: 'text/csv; charset=utf-8',
  tsv: 'text/tab-separated-values; charset=utf-8',
  text: 'text/plain; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  json: 'application/json',
  recipe: 'application/json',
  pdf: 'application/pdf',
  svg: 'image/svg+xml',
  png: 'image/png',
  zip: 'application/zip',
  bytes: 'application/octet-stream',
} as const;
