import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import type { ReviewPageContent } from '../../contract/reviewPages.js';
import { diskSource } from './diskSource.js';
import { PageApp } from './PageApp.js';
import { servedSource } from './servedSource.js';
import './page.css';

/** What a folder holds; absent where a server answers. */
const content = (globalThis as { REVIEW_PAGE?: ReviewPageContent }).REVIEW_PAGE;
const secret = location.pathname.split('/')[2] ?? '';
document.documentElement.dataset.theme = matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'day';

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <PageApp source={content ? diskSource(content) : servedSource(secret)} />
  </StrictMode>,
);
