import type { ComponentProps } from 'react';
import { Searchbar } from 'react-native-paper';
import { Icon } from '../theme/Icon';

const magnify = (props: { size: number; color?: string }) => <Icon name="magnify" {...props} />;
const clear = (props: { size: number; color?: string }) => <Icon name="close" {...props} />;

/** Paper's search field with icons that are not read aloud. */
export const Search = (props: ComponentProps<typeof Searchbar>) => (
  <Searchbar icon={magnify} clearIcon={clear} {...props} />
);
