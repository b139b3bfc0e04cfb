import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express } from 'express';

const YEAR_MS = 31_536_000_000;

/** Serves the built page: compressed copies where the browser takes them, hashed files for a year, the page itself always fresh. */
export function servePage(app: Express, folder: string): void {
  app.use((request, response, next) => {
    const path = decodeURIComponent(request.path);
    const compressed = join(folder, `${path}.br`);
    if (
      request.method !== 'GET' ||
      path.includes('..') ||
      !String(request.headers['accept-encoding']).includes('br') ||
      !existsSync(compressed)
    )
      return next();
    response.setHeader('content-encoding', 'br');
    response.setHeader('vary', 'accept-encoding');
    response.type(path.slice(path.lastIndexOf('.')));
    request.url = `${request.url.split('?')[0] ?? ''}.br`;
    next();
  });
  app.use(
    express.static(folder, {
      index: false,
      setHeaders: (response, path) =>
        response.setHeader(
          'cache-control',
          /\/_expo\/|\/assets\//.test(path) ? `public, max-age=${YEAR_MS / 1000}, immutable` : 'no-cache',
        ),
    }),
  );
  app.use((request, response, next) => {
    if (request.method !== 'GET' || request.path.startsWith('/api')) return next();
    response.setHeader('cache-control', 'no-cache');
    response.sendFile(join(folder, 'index.html'));
  });
}
