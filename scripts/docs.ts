import { writeFileSync } from 'node:fs';
import { padDocs } from './padDocs';
import { standinsDocs } from '../packages/standins/docs';

/** npm run docs: the reference of stand-ins and kinds, from their declarations. */
writeFileSync('docs/standins.md', standinsDocs());
writeFileSync('docs/pad-protocol.md', padDocs());
