import type { Page } from 'playwright-core';
import { browser, startBrowser } from '../e2e/support/browser';
import { type BrowserEngine, pressWith, type Size, type Spot } from './engine';

/** Chromium, as all browser tests use it. */
export class Chromium implements BrowserEngine {
  readonly name = 'Chromium';
  private page: Page | null = null;
  private heard: string[] = [];

  static async start(): Promise<Chromium> {
    await startBrowser();
    return new Chromium();
  }

  async open(url: string, size: Size): Promise<void> {
    await this.page?.close();
    this.heard = [];
    this.page = await browser.newPage({ viewport: size });
    this.page.on('pageerror', (error) => this.heard.push(String(error)));
    this.page.on('console', (message) => {
      if (message.type() === 'error') this.heard.push(`${message.text()} ${message.location().url}`);
    });
    await this.page.goto(url);
  }

  read<T>(source: string): Promise<T> {
    return this.now.evaluate(`(${source})()`);
  }

  press(spot: Spot, holdMs: number): Promise<void> {
    return pressWith(this.now.mouse, spot, holdMs);
  }

  async type(text: string): Promise<void> {
    await this.now.keyboard.type(text);
  }

  picture(): Promise<Buffer> {
    return this.now.screenshot({ type: 'png' });
  }

  errors(): Promise<readonly string[]> {
    return Promise.resolve(this.heard);
  }

  close(): Promise<void> {
    return browser.close();
  }

  private get now(): Page {
    if (this.page === null) throw new Error('No page is open.');
    return this.page;
  }
}
