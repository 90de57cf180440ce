// Takes pictures of the running demo for looking at: npx tsx scripts/shoot.ts OUT WIDTHxHEIGHT light|night PATH[=name] …
import { mkdirSync } from 'node:fs';
import puppeteer from 'puppeteer-core';

const [out, size, mode, ...paths] = process.argv.slice(2);
const [width, height] = size.split('x').map(Number);
const base = process.env.BASE ?? 'http://127.0.0.1:4180';
mkdirSync(out, { recursive: true });
const browser = await puppeteer.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
});
const page = await browser.newPage();
await page.setViewport({ width, height });
await page.emulateMediaFeatures([{ name: 'prefers-color-scheme', value: mode === 'night' ? 'dark' : 'light' }]);
page.on('console', (message) => ['error', 'warn'].includes(message.type()) && console.log('console:', message.text()));
page.on('pageerror', (error) => console.log('page error:', String(error)));
await page.goto(base);
await page.waitForSelector('input[type=email]');
await page.type('input[type=email]', 'ana@ottermere.example');
await page.type('input[type=password]', 'heron and kittiwake');
await page.click('button[type=submit]');
await page.waitForSelector('.areas');
for (const each of paths) {
  const [path, name] = each.split('=');
  await page.goto(`${base}${path}`);
  await new Promise((resolve) => setTimeout(resolve, 1300));
  await page.screenshot({ path: `${out}/${name ?? (path.replace(/\W+/g, '-').replace(/^-|-$/g, '') || 'today')}.png` });
  const wide = await page.evaluate(() => document.documentElement.scrollWidth > window.innerWidth);
  const tall = await page.evaluate(() => document.documentElement.scrollHeight > window.innerHeight);
  console.log(path, wide ? 'SCROLLS SIDEWAYS' : '', tall ? 'scrolls down' : '');
}
await browser.close();
