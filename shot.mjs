import { chromium } from 'playwright';
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-quic','--no-first-run','--use-angle=swiftshader','--enable-unsafe-swiftshader'] });
const page = await b.newPage({ viewport: { width: Number(process.argv[4] ?? 1280), height: Number(process.argv[5] ?? 800) } });
await page.goto('http://localhost:4990' + process.argv[2]);
await page.waitForTimeout(9000);
const f = process.argv[6]; if (f) { await (await import(f)).default(page); await page.waitForTimeout(3000); }
await page.screenshot({ path: process.argv[3] });
await b.close();
