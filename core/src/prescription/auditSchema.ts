import { array, boolean, mixed, number, object, string } from 'yup';
import { FACE_PARTS, type FacePartName } from '../audit/face';
import type { Verdict } from '../audit/limits';
import { coordinate, finite, id } from './maskSchema';

const keptFigure = () =>
  object({
    verdict: mixed<Verdict>().oneOf(['safe', 'check', 'damaged', 'not measurable']).required(),
    value: finite(),
  })
    .noUnknown()
    .required();
export const keptAudit = () =>
  object({
    probe: string().max(80).defined(),
    x: coordinate(),
    y: coordinate(),
    size: finite(),
    halo: keptFigure(),
    ringing: keptFigure(),
    unproven: keptFigure(),
    colour: keptFigure(),
    grain: keptFigure(),
    leak: keptFigure().optional().default(undefined),
    gain: object({ before: finite(), after: finite() }).noUnknown().nullable().defined().default(undefined),
  })
    .noUnknown()
    .required();

const facePart = () =>
  object({
    part: mixed<FacePartName>()
      .oneOf([...FACE_PARTS])
      .required(),
    x: coordinate(),
    y: coordinate(),
    rx: finite().min(0.5).max(20000),
    ry: finite().min(0.5).max(20000),
  })
    .noUnknown()
    .required();
export const face = () =>
  object({
    id: id(),
    name: string().max(60).required(),
    isFound: boolean().required(),
    sureness: number().min(0).max(1).optional(),
    parts: array().of(facePart()).max(FACE_PARTS.length).required(),
  })
    .noUnknown()
    .required();
export const keptLikeness = () =>
  object({
    face: string().max(60).required(),
    part: mixed<FacePartName>()
      .oneOf([...FACE_PARTS])
      .required(),
    shift: keptFigure(),
    hue: keptFigure(),
    structure: keptFigure(),
  })
    .noUnknown()
    .required();
