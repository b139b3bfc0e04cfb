const { createHash } = require('node:crypto');
const { readFileSync } = require('node:fs');
const { transformSync, version } = require('esbuild');

/** Jest's transform for code that is no React Native: TypeScript and modern modules to what Jest's loader reads, by the bundler we have anyway. */
const own = createHash('sha1').update(readFileSync(__filename)).update(version).digest('hex');
const loaders = { ts: 'ts', tsx: 'tsx', js: 'js', mjs: 'js' };

module.exports = {
  getCacheKey: (source, path) => createHash('sha1').update(own).update(path).update(source).digest('hex'),
  process: (source, path) =>
    transformSync(source, {
      loader: loaders[path.split('.').pop()] ?? 'ts',
      format: 'cjs',
      target: 'node20',
      sourcemap: 'inline',
      sourcefile: path,
      supported: { 'dynamic-import': false },
    }),
};
