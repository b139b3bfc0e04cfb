import { type ChildProcess, spawn } from 'node:child_process';
import { PNG } from 'pngjs';
import { freePort } from '../e2e/support/demo';
import { type BrowserEngine, pause, type Size, type Spot } from './engine';

const BROWSER = '/usr/lib/x86_64-linux-gnu/webkit2gtk-4.1/MiniBrowser';
/** Its window cannot be as narrow as a phone: the page stands in a frame of the size that is asked for. */
const WINDOW = { x: 0, y: 0, width: 1400, height: 1000 };
const DISPLAY = ':87';
const ELEMENT = 'element-6066-11e4-a52e-4f735466cecf';

/** So often something is read, and so long after it failed, before the failure counts. */
const [TRIES, AGAIN_MS] = [4, 150];

/** WebKit by plain WebDriver (W3C), in a display of its own. */
export class WebKit implements BrowserEngine {
  readonly name = 'WebKit';

  private constructor(
    private readonly processes: readonly ChildProcess[],
    private readonly base: string,
    private size: Size,
  ) {}

  static async start(): Promise<WebKit> {
    const display = spawn('Xvfb', [DISPLAY, '-screen', '0', '1400x1000x24', '-nolisten', 'tcp'], { stdio: 'ignore' });
    const port = await freePort();
    const driver = spawn('WebKitWebDriver', [`--port=${port}`, '--host=127.0.0.1'], {
      stdio: 'ignore',
      env: { ...process.env, DISPLAY, GTK_A11Y: 'none', LIBGL_ALWAYS_SOFTWARE: '1' },
    });
    const root = `http://127.0.0.1:${port}`;
    for (let tries = 0; tries < 100; tries += 1) {
      const up = await fetch(`${root}/status`).catch(() => null);
      if (up !== null) break;
      await pause(100);
    }
    const options = { binary: BROWSER, args: ['--automation'] };
    const { sessionId } = await ask<{ sessionId: string }>('POST', `${root}/session`, {
      capabilities: { alwaysMatch: { 'webkitgtk:browserOptions': options } },
    });
    const engine = new WebKit([driver, display], `${root}/session/${sessionId}`, { width: 390, height: 844 });
    await engine.ask('POST', '/window/rect', WINDOW);
    return engine;
  }

  async open(url: string, size: Size): Promise<void> {
    this.size = size;
    await this.ask('POST', '/frame', { id: null });
    await this.ask('POST', '/url', { url: new URL('/api/health', url).href });
    // The frame's own scripts wait until the listeners are there: errors of its first moment are heard too.
    await this.run(
      `const [url, width, height] = arguments;
       document.body.innerHTML = '';
       document.body.style.margin = '0';
       const frame = document.createElement('iframe');
       Object.assign(frame.style, { width: width + 'px', height: height + 'px', border: '0', display: 'block' });
       window.heard = [];
       let listening = null;
       const listen = () => {
         const inner = frame.contentWindow;
         if (inner && inner.document !== listening && inner.location.href !== 'about:blank') {
           listening = inner.document;
           inner.addEventListener('error', (event) => window.heard.push(String(event.message)));
           inner.addEventListener('unhandledrejection', (event) => window.heard.push(String(event.reason)));
           const said = inner.console.error;
           inner.console.error = (...all) => { window.heard.push(all.map(String).join(' ')); said.apply(inner.console, all); };
         }
       };
       setInterval(listen, 1);
       frame.src = url;
       document.body.append(frame);`,
      [url, size.width, size.height],
    );
    await pause(300);
    const frame = await this.ask<Record<string, string>>('POST', '/element', {
      using: 'css selector',
      value: 'iframe',
    });
    await this.ask('POST', '/frame', { id: { [ELEMENT]: frame[ELEMENT] } });
  }

  /** Its driver now and then loses an answer ("Could not parse script result"). What only reads is asked for again. */
  async read<T>(source: string): Promise<T> {
    for (let left = TRIES - 1; ; left -= 1)
      try {
        return await this.run<T>(`return (${source})();`, []);
      } catch (error) {
        if (left === 0) throw new Error(`${error instanceof Error ? error.message : String(error)}, at: ${source}`);
        await pause(AGAIN_MS);
      }
  }

  async press(spot: Spot, holdMs: number): Promise<void> {
    const at = { x: Math.round(spot.x), y: Math.round(spot.y), origin: 'viewport', duration: 0 };
    await this.pointer([
      { type: 'pointerMove', ...at },
      { type: 'pointerDown', button: 0 },
      { type: 'pause', duration: holdMs },
      { type: 'pointerUp', button: 0 },
    ]);
  }

  private async pointer(actions: readonly object[]): Promise<void> {
    await this.ask('POST', '/actions', {
      actions: [{ type: 'pointer', id: 'mouse', parameters: { pointerType: 'mouse' }, actions }],
    });
  }

  async type(text: string): Promise<void> {
    await this.ask('POST', '/actions', {
      actions: [
        {
          type: 'key',
          id: 'keys',
          actions: [...text].flatMap((value) => [
            { type: 'keyDown', value },
            { type: 'keyUp', value },
          ]),
        },
      ],
    });
  }

  async picture(): Promise<Buffer> {
    const whole = PNG.sync.read(Buffer.from(await this.ask<string>('GET', '/screenshot'), 'base64'));
    const part = new PNG(this.size);
    PNG.bitblt(
      whole,
      part,
      0,
      0,
      Math.min(this.size.width, whole.width),
      Math.min(this.size.height, whole.height),
      0,
      0,
    );
    return PNG.sync.write(part);
  }

  errors(): Promise<readonly string[]> {
    return this.read('() => window.parent.heard ?? []');
  }

  async close(): Promise<void> {
    await this.ask('DELETE', '').catch(() => undefined);
    for (const childProcess of this.processes) childProcess.kill('SIGTERM');
  }

  private run<T>(script: string, args: readonly unknown[]): Promise<T> {
    return this.ask<T>('POST', '/execute/sync', { script, args });
  }

  private ask<T>(method: string, path: string, body?: object): Promise<T> {
    return ask<T>(method, `${this.base}${path}`, body);
  }
}

/** @throws what the driver says is wrong */
async function ask<T>(method: string, url: string, body?: object): Promise<T> {
  const response = await fetch(url, {
    method,
    headers: { 'content-type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const { value } = (await response.json()) as { value: T & { message?: string } };
  if (!response.ok) throw new Error(`WebKit: ${method} ${url}: ${value.message ?? String(response.status)}`);
  return value;
}
