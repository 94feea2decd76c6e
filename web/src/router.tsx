import { createBrowserRouter, Navigate } from 'react-router';
import { Chrome } from './workspace/Chrome';
import { CorrectionsStep } from './corrections/CorrectionsStep';
import { FinishingStep } from './finishing/FinishingStep';
import { LocalMask } from './finishing/LocalMask';
import { FrameWorkspace } from './workspace/FrameWorkspace';
import { HandOver } from './handOver/HandOver';
import { HandOffFolders } from './handOff/HandOffFolders';
import { KeptPrescriptions } from './kept/KeptPrescriptions';
import { MaskStep } from './mask/MaskStep';
import { Measure } from './measure/Measure';
import { NoiseStep } from './noise/NoiseStep';
import { NothingHere } from './workspace/NothingHere';
import { Practice } from './practice/Practice';
import { Renders } from './renders/Renders';
import { Round } from './rounds/Round';
import { Rounds } from './rounds/Rounds';
import { Shoots } from './shoots/Shoots';
import { ShootSheet } from './shoots/ShootSheet';
import { StepFailed } from './workspace/StepFailed';
import { Trash } from './shoots/Trash';
import { Trials } from './trials/Trials';

export const router = createBrowserRouter([
  {
    element: <Chrome />,
    errorElement: <NothingHere />,
    children: [
      { index: true, element: <Shoots /> },
      { path: 'shoots/:shootId', element: <ShootSheet /> },
      { path: 'trash', element: <Trash /> },
      { path: 'renders', element: <Renders /> },
      { path: 'prescriptions', element: <KeptPrescriptions /> },
      { path: 'practice', element: <Practice /> },
      { path: 'hand-off', element: <HandOffFolders /> },
      { path: 'rounds', element: <Rounds /> },
      { path: 'rounds/:roundId', element: <Round /> },
      {
        path: 'frames/:frameId',
        element: <FrameWorkspace />,
        children: [
          { index: true, element: <Navigate to="measure" replace /> },
          { path: 'measure', element: <Measure />, errorElement: <StepFailed /> },
          { path: 'corrections', element: <CorrectionsStep />, errorElement: <StepFailed /> },
          { path: 'noise', element: <NoiseStep />, errorElement: <StepFailed /> },
          { path: 'mask', element: <MaskStep />, errorElement: <StepFailed /> },
          { path: 'trials', element: <Trials />, errorElement: <StepFailed /> },
          { path: 'finishing', element: <FinishingStep />, errorElement: <StepFailed /> },
          { path: 'finishing/masks/:changeId', element: <LocalMask />, errorElement: <StepFailed /> },
          { path: 'hand-over', element: <HandOver />, errorElement: <StepFailed /> },
        ],
      },
      { path: '*', element: <NothingHere /> },
    ],
  },
]);
