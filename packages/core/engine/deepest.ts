/** Macros that run macros, and buttons that press buttons, go so deep and no deeper: what lies below is never done, so that nobody looks at it either. */
export const DEEPEST = 60;
