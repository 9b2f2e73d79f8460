export declare function bundleProgram(entry: string, outfile: string): Promise<void>;
