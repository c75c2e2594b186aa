import { launch } from './browser.mjs';
const b = await launch();
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
p.on('console', (m) => console.log(m.type(), m.text()));
await p.addInitScript(() => {
  const O = Worker; window.Worker = class extends O { constructor(...a){ super(...a); this.addEventListener('message', (e)=>{ const d=e.data; if (d.id!==undefined) console.log(performance.now()|0, '<-', d.id, d.ok, d.ok? (d.body.ms||'')+' '+(d.body.computed||''): JSON.stringify(d.error)); }); } postMessage(m, ...r){ console.log(performance.now()|0,'->', m.id, m.name, m.name==='render'? m.body.quality+' '+m.body.view.w+'x'+m.body.view.h:''); super.postMessage(m, ...r); } };
});
await p.goto('http://localhost:5175/bench/shot:oven-mouth');
await p.waitForTimeout(12000);
await b.close();
