import '@fontsource-variable/source-sans-3/index.css';
import '@fontsource-variable/source-serif-4/index.css';
import '@fontsource-variable/source-serif-4/wght-italic.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { BrowserRouter } from 'react-router';
import { StyleSheetManager } from 'styled-components';
import { GlobalStyle } from '../ui/theme';
import { App } from './App';
import { listenForFaults } from './Crash';
import { engine } from './engine';
import { nonce } from './nonce';
import { sayError } from './notices';
import { openLast } from './persist';
import { loadScreenOf } from './screens';
import { useDoc } from './store';
import { warmShot } from './warm';
import { wordsOf } from './words';

(globalThis as { __webpack_nonce__?: string }).__webpack_nonce__ = nonce;

listenForFaults();
loadScreenOf(location.pathname);
/** The engine starts while the rest is fetched, and decodes the picture of the shot that the page is opened on. */
function warm(): void {
  const { records } = useDoc.getState();
  const shot = records[location.pathname.split('/')[2] ?? ''];
  if (location.pathname.startsWith('/bench') && shot?.type === 'shot' && shot.media) warmShot(shot);
}
engine();
// In the moment the records are there: before the screen is built, which takes the thread for a while.
const unwatch = useDoc.subscribe((s) => {
  if (!s.loaded) return;
  unwatch();
  warm();
});
void openLast().catch((e: unknown) => sayError(`What was open last could not be read: ${wordsOf(e)}`));

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <StyleSheetManager nonce={nonce}>
      <GlobalStyle />
      <QueryClientProvider client={new QueryClient()}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StyleSheetManager>
  </StrictMode>,
);
