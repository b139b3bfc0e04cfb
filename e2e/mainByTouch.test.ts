import { kindOf } from '@umbek/core/devices';
import { type Field, fieldsOf, lampChoices, type StepChoice, stepChoices } from '@umbek/core/programming';
import { sentenceOf, waitWords } from '@umbek/core/sentence';
import type { Button, LampRule, ShowDocument, Step } from '@umbek/core/show';
import type { Page } from 'playwright-core';
import { cap, freshDemo, goTo, openAt, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';
import { Hand } from './support/hand';

jest.setTimeout(600_000);
useBrowser();

const SIGNS: Readonly<Record<LampRule['show'], string>> = {
  onAir: 'on air',
  onPreview: 'next',
  chosen: 'chosen',
  up: 'up',
  arrived: 'arrived',
  armed: 'armed',
  recording: 'recording',
};

type Written = Record<string, unknown>;
/** A step without its id, which is nobody's matter. */
const plain = ({ id: _id, ...step }: Step): Written => step;
const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** How far a choice is from the step that is wanted: parameters to be changed, or null where it is another step. */
function distance(choice: StepChoice['step'], wanted: Step): number | null {
  const [a, b] = [choice as Written, plain(wanted)];
  for (const field of ['kind', 'device', 'command', 'target', 'panel']) if (a[field] !== b[field]) return null;
  if (a.kind === 'set' && !same(a.to, b.to)) return null;
  if (a.kind === 'wait' && a.until !== b.until) return null;
  const [has, wants] = [(a.params ?? {}) as Written, (b.params ?? {}) as Written];
  return [...new Set([...Object.keys(has), ...Object.keys(wants)])].filter((key) => !same(has[key], wants[key])).length;
}

/** An engineer with one finger who builds a panel from what it is to be. */
class Engineer {
  readonly hand: Hand;

  constructor(
    private readonly demo: Demo,
    private readonly page: Page,
  ) {
    this.hand = new Hand(page);
  }

  show = async (): Promise<ShowDocument> => (await (await fetch(`${this.demo.url}/api/show`)).json()) as ShowDocument;

  private async button(stripName: string): Promise<Button> {
    const { strips, buttons } = await this.show();
    const strip = strips.findLast(({ name }) => name === stripName);
    const own = buttons.filter(({ stripId }) => stripId === strip?.id).sort((a, b) => (a.order < b.order ? -1 : 1));
    return own.at(-1) as Button;
  }

  private name = (words: string) => this.page.getByRole('button', { name: words, exact: true }).first();

  private async write(label: string, text: string): Promise<void> {
    const field = this.page.getByLabel(label, { exact: true }).first();
    await this.hand.tap(field);
    await field.fill(text);
    await field.press('Enter');
  }

  /** One of a list that is searched. */
  private async pick(words: string): Promise<void> {
    await this.page
      .getByLabel(/^Search: /)
      .last()
      .fill(words);
    // The list lies on top of what has the same name behind it.
    await this.hand.tap(this.page.getByRole('button', { name: words, exact: true }).last());
  }

  async panel(name: string): Promise<void> {
    await this.hand.button(/^(Add a panel|A first panel)/).catch(() => undefined);
    await this.write('Name', name);
    await this.hand.button('Close the editor');
  }

  async strip(name: string, family: string): Promise<void> {
    await this.hand.button('Add strips');
    await this.hand.button('An empty strip');
    await this.write('Name', name);
    await this.hand.tap(this.page.getByRole('radio', { name: family, exact: true }));
    await this.hand.button('Close the editor');
  }

  async make(strip: string, wanted: Button): Promise<void> {
    const show = await this.show();
    await this.hand.button(`Add a button to ${strip}`);
    const before: Step[] = [];
    for (const step of wanted.steps) {
      const [best] = stepChoices(show, before)
        .flatMap((choice) => {
          const far = distance(choice.step, step);
          return far === null ? [] : [{ choice, far }];
        })
        .sort((a, b) => a.far - b.far);
      if (best === undefined) throw new Error(`Nothing in the list makes ${sentenceOf(step, show)}.`);
      await this.pick(best.choice.words);
      before.push(step);
    }
    await this.hand.button('Done');
    const made = await until('its steps', async () => {
      const built = await this.button(strip);
      return built.steps.length === wanted.steps.length ? built : undefined;
    });
    for (const [at, step] of wanted.steps.entries()) await this.correct(show, at, made.steps[at] as Step, step);
    await this.hand.tap(this.page.getByRole('button', { name: 'Says' }));
    await this.write('Legend', wanted.legend);
    if (wanted.note !== '') await this.write('Second line', wanted.note);
    if (wanted.guard === 'secondTouch')
      await this.hand.tap(this.page.getByLabel('A second touch is needed', { exact: true }));
    if (wanted.sets.length > 0) {
      await this.hand.tap(this.page.getByRole('button', { name: 'Does' }));
      await this.hand.tap(this.page.getByText('In turn', { exact: true }));
      await until('its other set', async () => (await this.button(strip)).sets.length === wanted.sets.length);
    }
    await this.lamps(show, strip, wanted);
    await this.hand.button('Close the editor');
  }

  /** What the list could not know is set in the step. */
  private async correct(show: ShowDocument, at: number, made: Step, wanted: Step): Promise<void> {
    if (same(plain(made), plain(wanted))) return;
    const words = made.kind === 'wait' ? waitWords(made.until, show) : sentenceOf(made, show);
    await this.hand.tap(this.name(`Step ${at + 1}: ${words}`));
    if (made.kind === 'wait' && wanted.kind === 'wait')
      await this.write('Time out after (s)', String(wanted.timeoutMs / 1000));
    if (made.kind === 'command' && wanted.kind === 'command') {
      const device = show.devices.find(({ key }) => key === wanted.device);
      const definition = kindOf(device, show)?.commands[wanted.command];
      for (const field of definition ? fieldsOf(definition) : [])
        if (!same(made.params[field.key], wanted.params[field.key]))
          await this.give(show, field, wanted.params[field.key]);
    }
    await this.hand.tap(
      this.page
        .getByTestId(`step-${at + 1}`)
        .getByRole('button')
        .first(),
    );
  }

  private async give(show: ShowDocument, field: Field, value: unknown): Promise<void> {
    if (typeof value === 'object' && value !== null && 'cel' in value) {
      const key = String(value.cel).replace(/^value\./, '');
      await this.hand.button(`${field.title} from a show value`);
      await this.pick(show.values.find((candidate) => candidate.key === key)?.name ?? key);
    } else if (typeof value === 'boolean') await this.hand.tap(this.page.getByLabel(field.title, { exact: true }));
    else await this.write(field.unit === '' ? field.title : `${field.title} (${field.unit})`, String(value));
  }

  private async lamps(show: ShowDocument, strip: string, wanted: Button): Promise<void> {
    const rules = async (): Promise<readonly LampRule[]> => (await this.button(strip)).lamps;
    let there = await rules();
    if (same(there, wanted.lamps)) return;
    await this.hand.tap(this.page.getByRole('button', { name: 'Lights' }));
    for (; there.length > 0; there = await rules()) {
      const { length } = there;
      await this.hand.button('Remove rule 1');
      await until('one rule less', async () => (await rules()).length === length - 1);
    }
    for (const [at, { when, show: sign }] of wanted.lamps.entries()) {
      const listed = lampChoices(show).find(({ rule }) => rule.when === when);
      if (listed !== undefined) {
        await this.hand.button('Add a lamp rule');
        await this.pick(listed.words);
      } else {
        await this.hand.button('From any state');
        await this.pick('Moving');
        await this.hand.button('As text (CEL)');
        await this.write('Condition (CEL)', when);
      }
      const made = await until('the rule', async () => (await rules())[at]);
      await until('its condition', async () => (await rules())[at]?.when === when);
      if (made.show === sign) continue;
      if (listed !== undefined) await this.hand.button(`Edit rule ${at + 1}`);
      await this.hand.button(`Shows: ${SIGNS[made.show]}`);
      await this.hand.tap(this.page.getByRole('menuitem', { name: SIGNS[sign], exact: true }));
      await until('its sign', async () => (await rules())[at]?.show === sign);
    }
  }
}

/** Everything about a button but which one it is: ids of steps are nobody's matter. */
const content = ({ id: _id, stripId: _strip, order: _order, ...button }: Button): unknown => ({
  ...button,
  steps: button.steps.map(plain),
  sets: button.sets.map((set) => ({ ...set, steps: set.steps.map(plain) })),
});

describe('the panel Main of the demo, built by touch from nothing but the rig', () => {
  it('equals the one that the demo brings along, and does the same', async () => {
    const demo = await freshDemo();
    const file = (await (await fetch(`${demo.url}/api/show/file`)).json()) as { document: ShowDocument };
    const { document } = file;
    const main = document.panels.find(({ name }) => name === 'Main');
    const wanted = document.strips
      .filter(({ panelId }) => panelId === main?.id)
      .sort((a, b) => (a.order < b.order ? -1 : 1))
      .map((strip) => ({
        strip,
        buttons: document.buttons
          .filter(({ stripId }) => stripId === strip.id)
          .sort((a, b) => (a.order < b.order ? -1 : 1)),
      }));
    await demo.post('/api/show', { ...file, document: { ...document, panels: [], strips: [], buttons: [] } });
    await until('reached again', async () => (await demo.health()).status === 'ok');
    const page = await openAt(demo.url, 'phone', '/bench');
    const engineer = new Engineer(demo, page);
    await engineer.panel('Main');
    for (const { strip, buttons } of wanted) {
      await engineer.strip(strip.name, strip.family);
      for (const button of buttons) await engineer.make(strip.name, button);
    }
    const built = await engineer.show();
    const of = (id: string | undefined) =>
      built.buttons
        .filter(({ stripId }) => stripId === id)
        .sort((a, b) => (a.order < b.order ? -1 : 1))
        .map(content);
    expect(built.panels.map(({ name }) => name)).toEqual(['Main']);
    const strips = built.strips.filter(({ panelId }) => panelId === built.panels[0]?.id);
    expect(
      strips
        .sort((a, b) => (a.order < b.order ? -1 : 1))
        .map(({ id, name, family }) => ({ name, family, buttons: of(id) })),
    ).toEqual(
      wanted.map(({ strip, buttons }) => ({ name: strip.name, family: strip.family, buttons: buttons.map(content) })),
    );
    // Fourteen for a button with what it does, says and lights for; 420 when this was written.
    expect(engineer.hand.touches).toBeLessThanOrEqual(14 * built.buttons.length + 30);

    // Operated: camera, wait, cut and name, as the demo's own.
    await goTo(page, demo.url);
    await cap(page, 'Ines close').first().tap();
    await page.getByTestId('on-air').getByText('Desk cam', { exact: true }).waitFor({ timeout: 15_000 });
    await until('her name', async () => (await demo.standins.captions.report()).points.nameText === 'Ines Halloran');
    await page.close();
  });
});
