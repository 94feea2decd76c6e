import { expect, it } from 'vitest';
import { automaticRecovery, emptyPrescription, prescriptionWords, type Method } from '../../src';

const words = (method: Method, learnedTexture: boolean) => {
  const recovery = { ...automaticRecovery(method, null, 70), learnedTexture, trialId: null };
  return prescriptionWords({ ...emptyPrescription(), recovery })[0].text;
};

it('the words of a prescription say whether learned texture is added, and only where it is', () => {
  expect(words('missed-focus', true)).toContain('with learned texture');
  expect(words('missed-focus', false)).not.toContain('texture');
  expect(words('edge-contrast', true)).not.toContain('texture');
});
