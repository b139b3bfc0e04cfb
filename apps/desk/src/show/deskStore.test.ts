import { corvaneHill, demoId } from '@umbek/demo';
import { applyEdit, type Change, viewOf } from '@umbek/core/show';
import { DeskStore } from './deskStore';

/** An engine that answers when it is told to. */
function setUp() {
  let [show, revision] = [corvaneHill(), 1];
  const asked: string[] = [];
  const answers: (() => void)[] = [];
  const store = new DeskStore(
    (path) =>
      new Promise((answer) => {
        asked.push(path);
        const panels = /panels=(.*)/.exec(path)?.[1]?.split(',') ?? [demoId('PAN', 1)];
        answers.push(() =>
          answer({
            ok: true,
            json: () => Promise.resolve({ revision, held: panels, ...viewOf(show, new Set(panels)) }),
          } as Response),
        );
      }),
  );
  const edit = (...changes: Change[]): { revision: number; changes: Change[] } => {
    const after = applyEdit(show, { changes });
    if (!after.ok) throw new Error('refused');
    show = after.value;
    return { revision: (revision += 1), changes };
  };
  const answer = async (): Promise<void> => {
    answers.shift()?.();
    for (let turn = 0; turn < 10; turn += 1) await Promise.resolve();
  };
  return { store, asked, answer, edit, show: () => show };
}
const [main, cameras] = [demoId('PAN', 1), demoId('PAN', 2)];
const legend = (show: ReturnType<typeof corvaneHill>, panel: string, to: string): Change => {
  const strips = new Set(show.strips.filter((strip) => strip.panelId === panel).map(({ id }) => id));
  const button = show.buttons.find((candidate) => strips.has(candidate.stripId));
  return { entity: 'buttons', id: button?.id ?? '', field: 'legend', from: button?.legend, to };
};

describe('the show that the Desk holds', () => {
  it('begins with one panel, and follows edits of it without loading anything', async () => {
    const { store, asked, answer, edit, show } = setUp();
    store.heard(1);
    await answer();
    const edited = edit(legend(show(), main, 'Here'), legend(show(), cameras, 'Elsewhere'));
    store.heard(2, [edited]);
    expect(asked).toEqual(['/api/show/desk']);
    expect(store.getState().document).toEqual(viewOf(show(), new Set([main])));
    expect(store.getState().document?.buttons.some((button) => button.legend === 'Here')).toBe(true);
  });

  it('loads a panel when it comes to be shown, and keeps the others', async () => {
    const { store, asked, answer, show } = setUp();
    store.heard(1);
    await answer();
    store.want(cameras);
    store.want(cameras);
    await answer();
    expect(asked).toEqual(['/api/show/desk', `/api/show/desk?panels=${main},${cameras}`]);
    expect(store.getState().document).toEqual(viewOf(show(), new Set([main, cameras])));
  });

  it('loads again when it missed an edit, or one came while it was loading', async () => {
    const { store, asked, answer, edit, show } = setUp();
    store.heard(1);
    await answer();
    edit(legend(show(), main, 'One'));
    const second = edit(legend(show(), main, 'Two'));
    store.heard(3, [second]);
    const third = edit(legend(show(), main, 'Three'));
    store.heard(4, [third]);
    await answer();
    expect(asked).toHaveLength(2);
    expect(store.getState().revision).toBe(4);
    expect(store.getState().document).toEqual(viewOf(show(), new Set([main])));
  });

  it('loads at once, and not again when the engine is heard of the same revision', async () => {
    const { store, asked, answer } = setUp();
    store.open();
    store.heard(1);
    await answer();
    store.heard(1);
    expect(asked).toEqual(['/api/show/desk']);
  });

  it('does not go round for a panel that is no longer there', async () => {
    const { store, asked, answer } = setUp();
    store.want(demoId('PAN', 77));
    store.load();
    await answer();
    expect(asked).toHaveLength(1);
  });
});
