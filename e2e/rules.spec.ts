import { expect, test } from '@playwright/test';
import { canvas, outlineRow, picker, place, saved } from './support';

test('alternatives from a choice in one step, and a rule that can never hold is told with what contradicts', async ({
  page,
  request,
}) => {
  const wanted = { name: 'Branches', purpose: 'record', typeId: 'hut' };
  const { id } = (await (await request.post('/api/templates', { data: wanted })).json()) as { id: string };
  await page.goto(`/studio/workbench/${id}`);
  await page.waitForLoadState('networkidle');
  await place(page, 'alternatives');
  await page.getByRole('tab', { name: 'Branches' }).click();
  await page.getByRole('button', { name: 'Make a branch for each answer of' }).click();
  await picker(page)
    .getByRole('button', { name: /Page layout/ })
    .first()
    .click();
  for (const name of ['Wide picture', 'Side by side', 'Plain', 'Otherwise'])
    await expect(outlineRow(page, name)).toBeVisible();
  await expect(page.getByText('Page layout is Side by side')).toBeVisible();
  await outlineRow(page, 'Side by side').click();
  await place(page, 'heading');
  await page
    .getByRole('textbox', { name: /fixed words|Text/ })
    .first()
    .fill('Two columns');
  await page.locator('nav button', { hasText: 'Windle Pass Hut' }).click();
  await expect(canvas(page).getByText('Two columns')).toBeVisible();
  await page.locator('nav button', { hasText: 'Grey Crag Hut' }).click();
  await expect(canvas(page).getByText('Two columns')).toHaveCount(0);
  await saved(page);
  // A second test on the same choice can never hold together with the first.
  await outlineRow(page, 'Side by side').click();
  await page.getByRole('tab', { name: /Appears/ }).click();
  await page.getByRole('button', { name: 'Add a test' }).click();
  await picker(page)
    .getByRole('button', { name: /Page layout/ })
    .first()
    .click();
  await page.getByRole('combobox', { name: 'Test', exact: true }).last().selectOption('choice.is');
  await page.getByRole('combobox', { name: 'Choice' }).last().selectOption({ label: 'Plain' });
  await expect(
    page
      .getByRole('tabpanel')
      .getByText(
        'This can never hold: “Page layout is Side by side” and “Page layout is Plain” contradict each other.',
      ),
  ).toBeVisible();
  await saved(page);
  await page.goto('/studio');
  await expect(page.getByText(/This can never hold: “Page layout is Side by side”/)).toBeVisible();
  await request.delete(`/api/templates/${id}`);
});
