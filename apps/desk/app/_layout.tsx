import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { PaperProvider } from 'react-native-paper';
import { Boundary } from '../src/common/Boundary';
import { openLive, LiveProvider } from '../src/live/LiveContext';
import { Shell } from '../src/shell/Shell';
import { openShow, ShowProvider } from '../src/show/ShowContext';
import { addPageStyles } from '../src/theme/pageStyles';
import { Icon } from '../src/theme/Icon';
import { paperTheme } from '../src/theme/paper';

addPageStyles();
openLive();
openShow();

const SETTINGS = { icon: Icon };
const queries = new QueryClient({ defaultOptions: { queries: { retry: 5, staleTime: Infinity } } });

export default function Layout() {
  return (
    <QueryClientProvider client={queries}>
      <LiveProvider>
        <ShowProvider>
          {/* Inside the others: dialogs are drawn here, whoever opens them, and know the show and the engine too. */}
          <PaperProvider theme={paperTheme} settings={SETTINGS}>
            <Boundary>
              <Shell />
            </Boundary>
          </PaperProvider>
        </ShowProvider>
      </LiveProvider>
    </QueryClientProvider>
  );
}
