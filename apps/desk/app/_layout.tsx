import { BarlowSemiCondensed_400Regular } from '@expo-google-fonts/barlow-semi-condensed/400Regular';
import { BarlowSemiCondensed_500Medium } from '@expo-google-fonts/barlow-semi-condensed/500Medium';
import { BarlowSemiCondensed_600SemiBold } from '@expo-google-fonts/barlow-semi-condensed/600SemiBold';
import { BarlowSemiCondensed_700Bold } from '@expo-google-fonts/barlow-semi-condensed/700Bold';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useFonts } from 'expo-font';
import { PaperProvider } from 'react-native-paper';
import { LiveProvider } from '../src/live/LiveContext';
import { Shell } from '../src/shell/Shell';
import { ShowProvider } from '../src/show/ShowContext';
import { showFocusRings } from '../src/theme/focusRing';
import { Icon } from '../src/theme/Icon';
import { paperTheme } from '../src/theme/paper';

showFocusRings();
const SETTINGS = { icon: Icon };
const queries = new QueryClient({ defaultOptions: { queries: { retry: 5, staleTime: Infinity } } });

export default function Layout() {
  const [ready] = useFonts({
    BarlowSemiCondensed_400Regular,
    BarlowSemiCondensed_500Medium,
    BarlowSemiCondensed_600SemiBold,
    BarlowSemiCondensed_700Bold,
  });
  if (!ready) return null;
  return (
    <QueryClientProvider client={queries}>
      <PaperProvider theme={paperTheme} settings={SETTINGS}>
        <LiveProvider>
          <ShowProvider>
            <Shell />
          </ShowProvider>
        </LiveProvider>
      </PaperProvider>
    </QueryClientProvider>
  );
}
