/** Stands in for Zod's error texts in other languages. */
export {};
