import { createBrowserRouter, Navigate } from 'react-router';
import { Chrome } from './parts/Chrome';
import { FrameWorkspace } from './screens/FrameWorkspace';
import { HandOver } from './screens/HandOver';
import { MaskStep } from './screens/MaskStep';
import { Measure } from './screens/Measure';
import { NoiseStep } from './screens/NoiseStep';
import { NothingHere } from './screens/NothingHere';
import { Renders } from './screens/Renders';
import { Shoots } from './screens/Shoots';
import { ShootSheet } from './screens/ShootSheet';
import { Trials } from './screens/Trials';

export const router = createBrowserRouter([
  {
    element: <Chrome />,
    errorElement: <NothingHere />,
    children: [
      { index: true, element: <Shoots /> },
      { path: 'shoots/:shootId', element: <ShootSheet /> },
      { path: 'renders', element: <Renders /> },
      {
        path: 'frames/:frameId',
        element: <FrameWorkspace />,
        children: [
          { index: true, element: <Navigate to="measure" replace /> },
          { path: 'measure', element: <Measure /> },
          { path: 'noise', element: <NoiseStep /> },
          { path: 'mask', element: <MaskStep /> },
          { path: 'trials', element: <Trials /> },
          { path: 'hand-over', element: <HandOver /> },
        ],
      },
      { path: '*', element: <NothingHere /> },
    ],
  },
]);
