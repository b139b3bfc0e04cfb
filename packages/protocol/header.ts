/** Header of a deed (all but reading and edits): `epoch:milliseconds` of the engine's clock at which it was asked for. What is more than 2 s old, or meant for an engine that has ended, is refused. */
export const ASKED_AT = 'umbek-asked-at';
