import { chromium } from '@playwright/test';
import { CHROMIUM } from '../scripts/lib/browser.mjs';
const b=await chromium.launch(CHROMIUM); const p=await b.newPage({viewport:{width:1280,height:800}});
const settled=()=>p.waitForFunction(()=>document.querySelector('[data-testid=table-settled]')?.dataset.busy==='false',null,{timeout:60000});
await p.goto('http://127.0.0.1:4180/'); await p.waitForTimeout(1500); await p.screenshot({path:'/tmp/t0.png'});
await p.getByRole('link').filter({hasText:'Breakwater'}).click(); await p.waitForURL(/jobs\//); let t=Date.now(); await settled(); console.log('first print',Date.now()-t);
await p.getByRole('tab',{name:'Plates'}).click(); t=Date.now(); await p.getByTestId('reach').getByText('on average').waitFor({timeout:100000}); console.log('survey',Date.now()-t); await p.keyboard.press('k'); await settled(); await p.waitForTimeout(800); await p.screenshot({path:'/tmp/t1.png'});
await p.getByRole('tab',{name:'Dots'}).click(); await p.keyboard.press('d'); await p.getByRole('button',{name:'Actual dots'}).click(); await settled(); await p.waitForTimeout(500); await p.screenshot({path:'/tmp/t2.png'});
await b.close();
