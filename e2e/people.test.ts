import type { ShowDocument } from '@umbek/core/show';
import { cap, freshDemo, openAt, openDesk, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(180_000);
useBrowser();

let demo: Demo;
beforeAll(async () => void (demo = await freshDemo()));
afterAll(() => demo.close());

const show = async (): Promise<ShowDocument> => (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const captioned = async (): Promise<unknown> => (await demo.standins.captions.report()).points.nameText;

describe.each(sizes)('the people list (%s)', (size) => {
  it('is filled from CSV up to its ten thousand rows, searched, corrected, and its captions go on air from a strip', async () => {
    const before = (await show()).people.length;
    const many = size === 'phone' ? 9900 : 90;
    const page = await openAt(demo.url, size, '/bench?list=people');
    await page.getByRole('button', { name: 'Person Ines Halloran, Host · Corvane Hill' }).waitFor();
    await page.getByRole('button', { name: 'From a CSV file' }).click();
    const rows = Array.from({ length: many }, (_, at) => `${size} visitor ${at + 1},Visitor,Row ${(at % 90) + 1}`);
    // A broken line is told with its number, and nothing is taken.
    const input = page.getByRole('textbox', { name: 'The list as CSV' });
    await input.fill(['name,title,place', ...rows.slice(0, 3), ',Visitor,Row 4'].join('\n'));
    await page.getByText('Line 5: The name is missing.').waitFor();
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'From a file' }).click(),
    ]);
    const text = ['name,title,place', ...rows].join('\n');
    await chooser.setFiles({ name: 'people.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
    if (many > 1000) await page.getByText(`${many + 1} lines are read.`).waitFor();
    await page.getByText(`${size} visitor 1 · Visitor · Row 1`).waitFor();
    await page.getByRole('button', { name: `Take ${many}` }).click();
    await until('all of them', async () => (await show()).people.length === before + many);
    // Found among thousands, and corrected.
    await page.getByLabel('Search: name, title or place').fill(`${size} ${many - 1}`);
    await page.getByRole('button', { name: `Person ${size} visitor ${many - 1}` }).click();
    const title = page.getByRole('textbox', { name: 'Title' });
    await title.fill('Guest of honour');
    await title.blur();
    await until('the title', async () =>
      (await show()).people.some(
        ({ name, title: shownTitle }) => name === `${size} visitor ${many - 1}` && shownTitle === 'Guest of honour',
      ),
    );
    await page.close();

    // A strip of the list, made on a panel of its own, and operated.
    const bench = await openAt(demo.url, size, '/bench');
    await bench.getByRole('button', { name: 'Add strips' }).click();
    await bench.getByRole('button', { name: /^Names: next, previous, find/ }).click();
    await bench.getByRole('button', { name: /^Add 1 strip/ }).click();
    await bench.close();
    const desk = await openDesk(demo.url, size);
    await cap(desk, 'Find').last().click();
    const find = desk.getByLabel('Search: people list');
    await find.fill(`${size} honour`);
    await desk.getByText(`1 of ${before + many}`).waitFor();
    await desk.getByRole('button', { name: `Choose ${size} visitor ${many - 1}, Guest of honour` }).click();
    const chosen = cap(desk, `${size} visitor ${many - 1}`).last();
    await chosen.click();
    await until('the caption', async () => (await captioned()) === `${size} visitor ${many - 1}`);
    // The next one of the list, and again in.
    await cap(desk, 'Next').last().click();
    await cap(desk, `${size} visitor ${many}`).last().click();
    await until('the next caption', async () => (await captioned()) === `${size} visitor ${many}`);
    await desk.close();
  });
});
