import type { ShowDocument } from '@umbek/core/show';
import { ulid } from 'ulid';
import { freshDemo, openAt, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

const cut = async (demo: Demo) => {
  const { buttons } = (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
  const button = buttons.find(({ steps }) =>
    steps.some((step) => step.kind === 'command' && step.command === 'cut' && steps.length === 1),
  );
  if (!button) throw new Error('No Cut.');
  return button;
};
/** Edits as another station makes them. */
const relabel = async (demo: Demo, to: string): Promise<void> => {
  const { id, legend } = await cut(demo);
  const changes = [{ entity: 'buttons', id, field: 'legend', from: legend, to }];
  const reply = await demo.post('/api/edits', { editId: ulid(), label: `Legend ${to}`, by: 'Tomasz', changes });
  expect(reply.status).toBe(200);
};

describe.each(sizes)('the history (%s)', (size) => {
  it('can be gone back to any row of it, seen before it happens, and back again', async () => {
    const demo = await freshDemo();
    for (const to of ['One', 'Two', 'Three']) await relabel(demo, to);
    const page = await openAt(demo.url, size, '/log');
    await page.getByText('Edits', { exact: true }).click();
    await page.getByRole('button', { name: /^Go back to after Legend One/ }).click();
    await page.getByText('2 edits came after it.').waitFor();
    await page.getByText('Button Three: legend').waitFor();
    expect((await cut(demo)).legend).toBe('Three');
    await page.getByRole('button', { name: 'Go back', exact: true }).click();
    await until('as it was', async () => (await cut(demo)).legend === 'One');
    await page
      .getByText(/^Back to \d\d:\d\d:\d\d, after Legend One$/)
      .first()
      .waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('as it came to be', async () => (await cut(demo)).legend === 'Three');
    await demo.close();
  });

  it('knows tonight: edits from a moment on are dropped as one, whoever made them, or kept', async () => {
    const demo = await freshDemo();
    await relabel(demo, 'Before');
    const page = await openAt(demo.url, size, '/log');
    await page.getByText('Edits', { exact: true }).click();
    await page.getByRole('button', { name: 'Begin tonight' }).click();
    await page
      .getByTestId('tonight')
      .getByText(/: 0 edits$/)
      .waitFor();
    await relabel(demo, 'Tonight');
    await relabel(demo, 'Later');
    await page
      .getByTestId('tonight')
      .getByText(/: 2 edits$/)
      .waitFor();
    await page.getByRole('button', { name: 'Drop them' }).click();
    await page.getByText('Button Later: legend').waitFor();
    await page.getByRole('button', { name: 'Drop them', exact: true }).click();
    await until('as before', async () => (await cut(demo)).legend === 'Before');
    await page.getByRole('button', { name: 'Begin tonight' }).click();
    await relabel(demo, 'Kept');
    await page
      .getByTestId('tonight')
      .getByText(/: 1 edit$/)
      .waitFor();
    await page.getByRole('button', { name: 'Keep them' }).click();
    await page.getByRole('button', { name: 'Begin tonight' }).waitFor();
    expect((await cut(demo)).legend).toBe('Kept');
    await demo.close();
  });
});
