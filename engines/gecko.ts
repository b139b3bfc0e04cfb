import puppeteer, { type Browser, type Page } from 'puppeteer-core';
import { type BrowserEngine, pressWith, type Size, type Spot } from './engine';

/** Gecko by WebDriver BiDi (W3C), without a window. */
export class Gecko implements BrowserEngine {
  readonly name = 'Gecko';
  private page: Page | null = null;
  private heard: string[] = [];

  private constructor(private readonly browser: Browser) {}

  static async start(): Promise<Gecko> {
    const browser = await puppeteer.launch({
      browser: 'firefox',
      executablePath: '/usr/bin/firefox-esr',
      headless: true,
      // It looks for nothing outside by itself.
      extraPrefsFirefox: {
        'network.captive-portal-service.enabled': false,
        'network.connectivity-service.enabled': false,
        'app.normandy.enabled': false,
        'browser.safebrowsing.downloads.remote.enabled': false,
        'services.settings.server': 'data:,',
      },
    });
    return new Gecko(browser);
  }

  async open(url: string, size: Size): Promise<void> {
    await this.page?.close();
    this.heard = [];
    this.page = await this.browser.newPage();
    this.page.on('pageerror', (error) => this.heard.push(String(error)));
    this.page.on('console', (message) => {
      if (message.type() === 'error') this.heard.push(message.text());
    });
    await this.page.setViewport(size);
    await this.page.goto(url, { waitUntil: 'domcontentloaded' });
  }

  read<T>(source: string): Promise<T> {
    return this.now.evaluate(`(${source})()`) as Promise<T>;
  }

  press(spot: Spot, holdMs: number): Promise<void> {
    return pressWith(this.now.mouse, spot, holdMs);
  }

  async type(text: string): Promise<void> {
    await this.now.keyboard.type(text);
  }

  async picture(): Promise<Buffer> {
    return Buffer.from(await this.now.screenshot({ type: 'png' }));
  }

  errors(): Promise<readonly string[]> {
    return Promise.resolve(this.heard);
  }

  close(): Promise<void> {
    return this.browser.close();
  }

  private get now(): Page {
    if (this.page === null) throw new Error('No page is open.');
    return this.page;
  }
}
