import type { ShowDocument, Step } from '@umbek/core/show';
import { ulid } from 'ulid';
import { freshDemo, openAt, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';
import { askWhy, makeClips, makeFilmEnds, makeMacro, makeWhileRule, RULE_TOUCHES } from './support/ruleTouches';

jest.setTimeout(150_000);
useBrowser();

const showOf = async (demo: Demo): Promise<ShowDocument> =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const read = (steps: readonly Step[] = []): string =>
  steps
    .map((step) =>
      'steps' in step ? `${step.kind}(${read(step.steps)})` : step.kind === 'command' ? step.command : step.kind,
    )
    .join(' ');
let presses = 0;
const send = (demo: Demo, device: string, command: string, params: Record<string, unknown>) =>
  demo.post('/api/send', {
    pressId: `01JTHCHES0000000000000${String((presses += 1)).padStart(4, '0')}`,
    phase: 'down',
    station: 'Desk 1',
    device,
    command,
    params,
  });

describe('in few touches on a phone', () => {
  it('a rule from a source, one from the end of a film, and the reason why it did not fire', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, 'phone', '/bench?list=triggers');
    expect(await makeWhileRule(page)).toBeLessThanOrEqual(RULE_TOUCHES.whileRule);
    const made = await until('the rule is there', async () =>
      (await showOf(demo)).triggers.find(
        ({ name, steps }) => name === 'While Desk cam is on air' && steps.length === 1,
      ),
    );
    expect(read(made.steps)).toBe('countIn');
    await page.getByRole('button', { name: 'Done' }).last().click();
    await page.getByRole('button', { name: 'Close the editor' }).click();

    expect(await makeFilmEnds(page)).toBeLessThanOrEqual(RULE_TOUCHES.filmEnds);
    const ends = await until('the rule is there', async () =>
      (await showOf(demo)).triggers.find(({ name, steps }) => name.includes('layer 1 has ended') && steps.length === 1),
    );
    expect(read(ends.steps)).toBe('group(preview mix)');
    await page.getByRole('button', { name: 'Done' }).last().click();
    await page.getByRole('button', { name: 'Disarm', exact: true }).first().click();
    await page.getByRole('button', { name: 'Close the editor' }).click();

    // The film ends, and the rule does nothing: why?
    await send(demo, 'spool', 'cue', { channel: 1, layer: 1, clip: 'Holding loop' });
    await send(demo, 'spool', 'goTo', { channel: 1, layer: 1, seconds: 19 });
    await send(demo, 'spool', 'play', { channel: 1, layer: 1 });
    await until(
      'it has ended',
      async () => (await demo.standins.spool.report()).points.ch1Layer1Ended === true,
      10_000,
    );
    expect(await askWhy(page, 'When Spool: clip on channel 1, layer 1 has ended')).toBeLessThanOrEqual(
      RULE_TOUCHES.why,
    );
    await page.getByRole('button', { name: /Did not fire: It is disarmed\./ }).waitFor();
    await demo.close();
  });

  it('a macro that recalls, mixes on arrival and shows a caption for six seconds', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, 'phone', '/bench?list=macros');
    expect(await makeMacro(page)).toBeLessThanOrEqual(RULE_TOUCHES.macro);
    const macro = await until('the macro is there', async () =>
      (await showOf(demo)).macros.find(
        ({ steps }) => read(steps) === 'recall wait group(preview mix) nameIn group(pause nameOut)',
      ),
    );
    await page.getByRole('button', { name: 'Done' }).last().click();
    const began = Date.now();
    await page
      .getByRole('button', { name: /^Try it/ })
      .first()
      .click();
    await until('Desk cam is on air', async () => (await demo.standins.switcher.report()).points.program === 1, 15_000);
    expect((await demo.standins.deskCam.report()).points).toMatchObject({ travelling: false });
    await until('the caption is up', async () => (await demo.standins.captions.report()).points.nameUp === true);
    await until(
      'the caption is out',
      async () => (await demo.standins.captions.report()).points.nameUp === false,
      10_000,
    );
    expect(Date.now() - began).toBeGreaterThan(6000);
    expect(macro.stopSteps).toEqual([]);
    await demo.close();
  });

  it('two clips on two layers, begun at once, and a mix that is over when the clip is', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, 'phone', '/bench?list=macros');
    await page.getByRole('button', { name: 'New macro' }).click();
    await page.getByRole('button', { name: 'Done' }).last().click();
    expect(await makeClips(page)).toBeLessThanOrEqual(RULE_TOUCHES.clips);
    const macro = await until('the steps are there', async () =>
      (await showOf(demo)).macros.find(({ steps }) => read(steps) === 'together(cue cue) together(play play)'),
    );
    await page
      .getByRole('button', { name: /^Try it/ })
      .first()
      .click();
    const points = async () => (await demo.standins.spool.report()).points;
    await until('both play', async () => {
      const { ch1Layer1Playing, ch1Layer2Playing } = await points();
      return ch1Layer1Playing === true && ch1Layer2Playing === true;
    });
    const plays = (await demo.standins.spool.report()).effects.filter(({ command }) => command === 'play');
    // Both stood in one datagram: nothing came between them.
    expect(Math.abs((plays[1]?.at ?? 0) - (plays[0]?.at ?? 0))).toBeLessThan(20);

    // Played from near its end: the mix that was proposed next is over with the clip.
    await send(demo, 'switcher', 'preview', { source: 'deskCam' });
    await send(demo, 'spool', 'cue', { channel: 2, layer: 1, clip: 'Holding loop' });
    await send(demo, 'spool', 'goTo', { channel: 2, layer: 1, seconds: 16 });
    const lines: Step[] = [
      { id: 'p', onFail: 'stop', kind: 'command', device: 'spool', command: 'play', params: { channel: 2, layer: 1 } },
      {
        id: 'w',
        onFail: 'stop',
        kind: 'wait',
        until: 'spool.ch2Layer1Playing && spool.ch2Layer1Left < 0.5',
        timeoutMs: 60_000,
      },
      { id: 'm', onFail: 'stop', kind: 'command', device: 'switcher', command: 'mix', params: { frames: 25 } },
    ];
    const edited = await demo.post('/api/edits', {
      editId: ulid(),
      label: 'Mix with the clip',
      changes: [{ entity: 'macros', id: macro.id, field: 'steps', from: macro.steps, to: lines }],
    });
    expect(edited.status).toBe(200);
    await page
      .getByRole('button', { name: /^Try it/ })
      .first()
      .click();
    await until('Desk cam is on air', async () => (await demo.standins.switcher.report()).points.program === 1, 15_000);
    const report = await demo.standins.spool.report();
    const mix = (await demo.standins.switcher.report()).effects.findLast(({ command }) => command === 'mix');
    const play = report.effects.findLast(({ command }) => command === 'play');
    // Four seconds are left when it begins to play, and half a second when the mix does.
    expect((mix?.at ?? 0) - (play?.at ?? 0)).toBeGreaterThan(3450);
    expect((mix?.at ?? 0) - (play?.at ?? 0)).toBeLessThan(3650);
    await demo.close();
  });
});
