import { chromium } from 'playwright-core';
const file=process.argv[2];
const b=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--no-sandbox']}).catch(async()=>chromium.launch());
const p=await b.newPage({viewport:{width:1280,height:800}});
await p.goto('http://127.0.0.1:4180/'); let t=Date.now(); const lap=n=>{console.log(n,Date.now()-t);t=Date.now();};
await p.locator('input[type=file]').setInputFiles(file); await p.waitForURL(/\/jobs\//,{timeout:120000}); lap('import');
const settled=()=>p.waitForFunction(()=>document.querySelector('[data-testid=table-settled]')?.dataset.busy==='false',null,{timeout:60000});
await settled(); lap('first print'); console.log(p.url());
await p.getByRole('tab',{name:'Plates'}).click(); await p.getByTestId('reach').getByText('on average').waitFor({timeout:100000}); lap('survey');
await p.screenshot({path:'/tmp/s1.png'});
// another ink
await p.getByRole('button',{name:'Leave Lagoon out'}).click(); await p.waitForTimeout(50); await settled(); lap('ink left out'); 
await p.keyboard.press('Control+z'); await p.waitForTimeout(50); await settled(); lap('undo');
await p.getByRole('tab',{name:'Fit'}).click(); await p.waitForTimeout(300); await p.screenshot({path:'/tmp/s2.png'});
await p.getByRole('tab',{name:'Dots'}).click(); await p.keyboard.press('x'); await settled(); await p.waitForTimeout(300); await p.screenshot({path:'/tmp/s3.png'});
await b.close();
