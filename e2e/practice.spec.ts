import { expect, test } from './server';

test('practice: a case is told in figures; a challenge is photographed, graded and earned, its truth put on the Wall', async ({
  page,
  server,
}) => {
  await page.goto(`${server.url}/practice`);
  // A figure is changed, and what it comes to is said at once.
  await page.getByLabel('What goes wrong').selectOption('movement');
  await page.getByLabel('Speed').fill('1.2');
  await page.getByLabel('Speed').press('Enter');
  await expect(page.getByText(/It moves 24\.7 px while the shutter is open/)).toBeVisible();
  await expect(page.getByRole('img', { name: 'The photograph as it would be' })).toBeVisible();
  // The address holds the case: a reload shows it again.
  await page.reload();
  await expect(page.getByLabel('Speed')).toHaveValue('1.20');
  const challenges = page.getByRole('region', { name: 'Challenges' });
  await expect(challenges.getByText('0 of 12 earned')).toBeVisible();

  // Of a hopeless one nothing can be had: whoever leaves it alone has earned it.
  await challenges.getByRole('row', { name: /^lost/ }).getByRole('button', { name: 'Photograph' }).click();
  await expect(page).toHaveURL(/\/frames\/.*\/measure/);
  const card = page.getByRole('region', { name: 'Practice grade' });
  await card.getByRole('button', { name: 'Grade it' }).click();
  await expect(card.getByText('As near to the truth as what was photographed')).toBeVisible();
  await expect(card.getByText('Nothing was recovered, so the audit had nothing to judge.')).toBeVisible();
  await card.getByRole('button', { name: 'truth on the Wall' }).click();
  await expect(card.getByText('the truth is on the Wall')).toBeVisible();
  const id = /frames\/([^/]+)/.exec(page.url())![1];
  const versions = await (await page.request.get(`${server.url}/api/frames/${id}/versions`)).json();
  expect(versions).toMatchObject([{ name: 'the truth', width: 840 }]);
  await page.reload();
  await expect(card.getByRole('button', { name: 'Grade it again' })).toBeVisible();

  await page.goto(`${server.url}/practice`);
  await expect(challenges.getByText('1 of 12 earned')).toBeVisible();
  await expect(challenges.getByRole('row', { name: /^lost/ })).toContainText('left alone');
});
