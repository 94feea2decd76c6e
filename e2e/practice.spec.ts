import { expect, test } from './server';

test('practice: a challenge is photographed, recovered, graded, the marks held against the truth on the Wall', async ({
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

  await challenges
    .getByRole('row', { name: /^quick-step/ })
    .getByRole('button', { name: 'Photograph' })
    .click();
  await expect(page).toHaveURL(/\/frames\/.*\/measure/);
  await page.goto(page.url().replace(/measure$/, 'trials'));
  await page.getByRole('button', { name: /^Choose A/ }).click();
  const card = page.getByRole('region', { name: 'Practice grade' });
  await card.getByRole('button', { name: 'Grade it' }).click();
  await expect(card.getByText(/dB nearer to the truth|as near to the truth|farther from the truth/)).toBeVisible();
  await expect(
    card.getByRole('img', { name: /right alarm \d+, missed \d+, false alarm \d+, rightly quiet \d+/ }),
  ).toBeVisible();
  await card.getByRole('button', { name: 'truth on the Wall' }).click();
  await expect(page.getByRole('grid', { name: 'Wall' }).getByText('the truth')).toBeVisible();
  await page.reload();
  await expect(card.getByRole('button', { name: 'Grade it again' })).toBeVisible();

  await page.goto(`${server.url}/practice`);
  await expect(challenges.getByRole('row', { name: /^quick-step/ })).toContainText('dB (Automatic');
});
