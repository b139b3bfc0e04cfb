module.exports = (api) => {
  const test = api.env('test');
  return {
    presets: ['babel-preset-expo'],
    // Only what is used of Paper goes into the page.
    plugins: test ? [] : ['react-native-paper/babel'],
  };
};
