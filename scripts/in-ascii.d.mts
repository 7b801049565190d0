export function inAscii(script: string): string;
export function putInAscii(folder: string): void;
