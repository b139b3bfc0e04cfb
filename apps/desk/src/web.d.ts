import 'react-native';

/** What React Native Web adds to a View: data attributes, which tests and styles read. */
declare module 'react-native' {
  interface ViewProps {
    dataSet?: Record<string, string>;
  }
  interface TextProps {
    dir?: 'auto' | 'ltr' | 'rtl';
  }
}
