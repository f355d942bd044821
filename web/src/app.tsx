/** The application: the list of shots, and one screen per shot. */

import CssBaseline from '@mui/material/CssBaseline'
import { ThemeProvider } from '@mui/material/styles'
import { Provider } from 'react-redux'
import { createBrowserRouter, RouterProvider } from 'react-router'
import { ShotScreen } from './shot/shot-screen'
import { BrokenRegion } from './broken-region'
import { NewShot } from './new-shot/new-shot'
import { ShotList } from './shots/shot-list'
import { createStore } from './store'
import { theme } from './theme'

const store = createStore()
const router = createBrowserRouter([
  { path: '/', element: <ShotList />, errorElement: <BrokenRegion name="The list of shots" /> },
  { path: '/new', element: <NewShot />, errorElement: <BrokenRegion name="The page of a new shot" /> },
  { path: '/shots/:id', element: <ShotScreen />, errorElement: <BrokenRegion name="The shot screen" /> },
])

export function App() {
  return (
    <Provider store={store}>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        <RouterProvider router={router} />
      </ThemeProvider>
    </Provider>
  )
}
