export declare function solverHash(): string;
