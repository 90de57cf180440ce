export function wrongWith(files: readonly string[], read: (file: string) => string): string[];
