export function dataFolderProblem(folder: string, free?: (folder: string) => number): string | null;
