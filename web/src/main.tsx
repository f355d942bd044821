import '@fontsource-variable/inter'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { App } from './app'

const root = document.getElementById('root')
if (!root) throw new Error('The page has no place for the application.')
createRoot(root).render(
  <StrictMode>
    <App />
  </StrictMode>,
)
