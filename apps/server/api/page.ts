import { join } from 'node:path';
import type { Express } from 'express';
import expressStaticGzip from 'express-static-gzip';

const YEAR_MS = 31_536_000_000;
/** Parts whose names change with what is in them. */
const HASHED = /[\\/](_expo|assets)[\\/]/;

/** Serves the built page: compressed copies where the browser takes them, hashed files for a year, the page itself always fresh. */
export function servePage(app: Express, folder: string): void {
  app.use(
    expressStaticGzip(folder, {
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      index: false,
      serveStatic: {
        setHeaders: (response, path) =>
          response.setHeader(
            'cache-control',
            HASHED.test(path) ? `public, max-age=${YEAR_MS / 1000}, immutable` : 'no-cache',
          ),
      },
    }),
  );
  app.use((request, response, next) => {
    if (request.method !== 'GET' || request.path.startsWith('/api')) return next();
    response.setHeader('cache-control', 'no-cache');
    response.sendFile(join(folder, 'index.html'));
  });
}
