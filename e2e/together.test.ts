import type { ShowDocument } from '@umbek/core/show';
import { freshDemo, openAt, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

const showOf = async (demo: Demo): Promise<ShowDocument> =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const buttonOf = async (demo: Demo, legend: string) => {
  const button = (await showOf(demo)).buttons.find((candidate) => candidate.legend === legend);
  if (!button) throw new Error(`No ${legend}.`);
  return button;
};

describe.each(sizes)('two engineers at one panel (%s)', (size) => {
  it('see what the other one has selected, while they have it', async () => {
    const demo = await freshDemo();
    const [page, two] = [await openAt(demo.url, size, '/bench'), await openAt(demo.url, size, '/bench')];
    const { id } = await buttonOf(demo, 'Count board');
    await page.getByRole('button', { name: 'Edit Count board', exact: true }).click();
    await two.getByTestId(`other-${id}`).waitFor();
    await page.getByRole('button', { name: 'Close the editor' }).click();
    await two.getByTestId(`other-${id}`).waitFor({ state: 'detached' });
    // Who goes away takes it along.
    await page.getByRole('button', { name: 'Edit Count board', exact: true }).click();
    await two.getByTestId(`other-${id}`).waitFor();
    await page.close();
    await two.getByTestId(`other-${id}`).waitFor({ state: 'detached' });
    await demo.close();
  });

  it('count up in one strip at the same time: both rows are there, and none is lost', async () => {
    const demo = await freshDemo();
    const pages = [await openAt(demo.url, size, '/bench'), await openAt(demo.url, size, '/bench')];
    for (const page of pages) {
      await page.getByRole('button', { name: 'Edit Black' }).click();
      await page.getByRole('button', { name: 'Count up' }).click();
      await page.getByTestId('make-count').getByText('Make 6 buttons').waitFor();
    }
    await Promise.all(pages.map((page) => page.getByTestId('make-count').click()));
    const strip = (await buttonOf(demo, 'Black')).stripId;
    const count = async () => (await showOf(demo)).buttons.filter(({ stripId }) => stripId === strip).length;
    await until('both rows', async () => (await count()) === 18);
    for (const page of pages)
      await until('on both pages', async () => (await page.locator('[aria-label$=" Spool"]').count()) >= 2);
    await demo.close();
  });
});

describe('a box on a wide screen', () => {
  it('chooses the caps that it meets', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, 'wide', '/bench');
    const [first, last] = [
      await page.getByRole('button', { name: 'Edit Desk cam', exact: true }).boundingBox(),
      await page.getByRole('button', { name: 'Edit Black', exact: true }).boundingBox(),
    ];
    if (!first || !last) throw new Error('No caps.');
    // From the empty ground at the right of the second row up to the first cap.
    await page.mouse.move(last.x + last.width + 60, last.y + last.height - 8);
    await page.mouse.down();
    await page.mouse.move(first.x + 20, first.y + 20, { steps: 8 });
    await page.mouse.up();
    await page.getByText('4 buttons chosen').or(page.getByText('3 buttons chosen')).first().waitFor();
    await demo.close();
  });

  it('all buttons can be read as CSV and on a sheet', async () => {
    const demo = await freshDemo();
    const csv = await (await fetch(`${demo.url}/api/buttons.csv`)).text();
    expect(csv.split('\r\n')).toHaveLength((await showOf(demo)).buttons.length + 2);
    const sheet = await fetch(`${demo.url}/api/buttons.html`);
    expect(sheet.headers.get('content-security-policy')).toMatch(/default-src 'none'/);
    expect(await sheet.text()).toContain('<h2>Main</h2>');
    await demo.close();
  });
});
