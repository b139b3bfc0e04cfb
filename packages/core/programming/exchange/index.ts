/** Buttons, strips and panels that go from one show into another: what they need there, what stands for it here, what comes along. */
export * from './bring';
export * from './match';
export * from './needs';
