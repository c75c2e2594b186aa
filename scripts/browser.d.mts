import type { Browser } from '@playwright/test';

export declare function chromiumPath(): string | null;
export declare const flags: string[];
export declare function launch(): Promise<Browser>;
