import { chromium } from 'playwright';
const [out, url, w = '1280', h = '800', ...acts] = process.argv.slice(2);
const browser = await chromium.launch({ executablePath: process.env.CHROME || '/usr/bin/chromium', args: ['--headless','--no-sandbox','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync','--use-angle=swiftshader','--enable-unsafe-swiftshader'] });
const page = await browser.newPage({ viewport: { width: +w, height: +h } });
page.on('console', (m) => m.type() === 'error' && console.log('console', m.text()));
page.on('pageerror', (e) => console.log('pageerror', e.message));
await page.goto(url);
for (const a of acts) {
  const [kind, ...rest] = a.split('=');
  const v = rest.join('=');
  try {
  if (kind === 'wait') await page.waitForTimeout(+v);
  if (kind === 'click') await page.locator(v).first().click({ timeout: 20000 });
  if (kind === 'for') await page.locator(v).first().waitFor({ timeout: 90000 });
  if (kind === 'fill') { const [sel, text] = v.split('=>'); await page.locator(sel).first().fill(text); await page.keyboard.press('Enter'); }
  if (kind === 'key') await page.keyboard.press(v);
  if (kind === 'at') { const [sel, x, y] = v.split('@'); const b = await page.locator(sel).first().boundingBox(); await page.mouse.click(b.x + b.width * +x, b.y + b.height * +y); }
  } catch (e) { console.log(a, e.message.split('\n')[0]); }
}
await page.screenshot({ path: out });
await browser.close();
