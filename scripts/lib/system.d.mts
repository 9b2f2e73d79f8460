export declare const MEMORY_ENV: Readonly<Record<string, string>>;
