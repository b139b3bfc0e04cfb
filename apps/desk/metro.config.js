const { getDefaultConfig } = require('expo/metro-config');
const { join } = require('node:path');

const config = getDefaultConfig(__dirname);
const { resolveRequest } = config.resolver;

/** Zod brings its error texts in fifty languages along; ours speaks English and has its own words. A tenth of the page would be those. */
config.resolver.resolveRequest = (context, name, platform) =>
  /^\.\.\/locales\/index\.js$/.test(name) && context.originModulePath.includes(`${join('node_modules', 'zod')}`)
    ? { type: 'sourceFile', filePath: join(__dirname, 'src', 'noLocales.ts') }
    : (resolveRequest ?? context.resolveRequest)(context, name, platform);

/** A module is run when something of it is used: most of what the page holds is not needed for its first picture. */
const { getTransformOptions } = config.transformer;
config.transformer.getTransformOptions = async (...given) => {
  const options = await getTransformOptions?.(...given);
  return { ...options, transform: { ...options?.transform, inlineRequires: true } };
};

module.exports = config;
