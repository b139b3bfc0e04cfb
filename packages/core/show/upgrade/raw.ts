/** JSON of a show as it was stored, of whatever version. */
export type Raw = Record<string, unknown>;
