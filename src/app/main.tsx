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
import { nonce } from './nonce';
import { sayError } from './notices';
import { openLast } from './persist';
import { wordsOf } from './words';

(globalThis as { __webpack_nonce__?: string }).__webpack_nonce__ = nonce;

listenForFaults();
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
