import '@fontsource/alegreya/500.css'
import '@fontsource/alegreya/700.css'
import '@fontsource/alegreya/400-italic.css'
import '@fontsource/alegreya-sans/400.css'
import '@fontsource/alegreya-sans/500.css'
import '@fontsource/alegreya-sans/700.css'
import './shared/ui/base.css'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { App, queries } from './app/App'
import { followVersions } from './app/update'
import { persistOn, restore } from './practice/queryPersistence'

const root = document.getElementById('root')
if (root) {
  await restore(queries)
  persistOn(queries)
  followVersions()
  createRoot(root).render(
    <StrictMode>
      <App />
    </StrictMode>,
  )
}
