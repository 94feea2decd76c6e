import { describe, expect, it } from 'vitest';
import {
  addFace,
  checkPrescription,
  emptyPrescription,
  MOST_FACES,
  placePart,
  removeFace,
  removePart,
  smallOrPoor,
  withFoundFaces,
  type FacePart,
} from '../../src';

let made = 0;
const newId = () => `id ${made++}`;

describe('faces of a frame', () => {
  const eye: FacePart = { part: 'left eye', x: 10, y: 20, rx: 5, ry: 4 };
  const found = { parts: [eye], sureness: 0.9 };

  it('are placed, moved and removed, and make a valid prescription', () => {
    let plan = addFace(emptyPrescription(), 'f');
    plan = placePart(plan, 'f', eye);
    plan = placePart(plan, 'f', { ...eye, x: 12 });
    expect(plan.faces![0].parts).toEqual([{ ...eye, x: 12 }]);
    expect(checkPrescription(JSON.parse(JSON.stringify(plan))).faces).toEqual(plan.faces);
    expect(removePart(plan, 'f', 'left eye').faces![0].parts).toEqual([]);
    expect(removeFace(plan, 'f').faces).toEqual([]);
  });

  it('found anew replace found ones only, and there are not too many', () => {
    const byHand = placePart(addFace(emptyPrescription(), 'mine'), 'mine', eye);
    const twice = withFoundFaces(withFoundFaces(byHand, [found, found], newId), [found], newId);
    expect(twice.faces!.map(({ isFound }) => isFound)).toEqual([true, false]);
    const crowd = withFoundFaces(
      byHand,
      Array.from({ length: 30 }, () => found),
      newId,
    );
    expect(crowd.faces).toHaveLength(MOST_FACES);
    expect(addFace(crowd, 'one more')).toBe(crowd);
  });

  it('small ones and those the model is not sure of are told apart', () => {
    const face = (id: string, side: number, sureness?: number) => ({
      id,
      name: id,
      isFound: sureness !== undefined,
      ...(sureness === undefined ? {} : { sureness }),
      parts: [{ ...eye, rx: side, ry: side }],
    });
    const faces = [face('near', 40, 0.95), face('far', 15, 0.9), face('doubtful', 38, 0.4), face('by hand', 30)];
    expect(smallOrPoor(faces).map(({ id }) => id)).toEqual(['far', 'doubtful']);
    expect(smallOrPoor([face('alone', 5, 0.9)])).toEqual([]);
    const plan = { ...emptyPrescription(), faces };
    expect(checkPrescription(JSON.parse(JSON.stringify(plan))).faces).toEqual(faces);
  });
});
