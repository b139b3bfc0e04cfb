import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { PaperProvider } from 'react-native-paper';
import { LiveProvider } from '../src/live/LiveContext';
import { Shell } from '../src/shell/Shell';
import { ShowProvider } from '../src/show/ShowContext';
import { showFocusRings } from '../src/theme/focusRing';
import { Icon } from '../src/theme/Icon';
import { paperTheme } from '../src/theme/paper';
import { config } from 'zod';

showFocusRings();
// Zod tries to compile its checks, which the page's own security policy forbids: one engine tells each try as an error.
config({ jitless: true });

const SETTINGS = { icon: Icon };
const queries = new QueryClient({ defaultOptions: { queries: { retry: 5, staleTime: Infinity } } });

export default function Layout() {
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
