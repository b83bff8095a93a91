import { drawTwo } from './world';
import { huntTwo } from './two';
const [a,b]=[Number(process.argv[2]),Number(process.argv[3])];
for(let s=a;s<=b;s+=2){const t0=Date.now();const c=drawTwo(s) as any;const r=huntTwo(c) as any;console.log(s,r.both?'OK':'--','called',r.called,'min',r.minutes.toFixed(0),'atOnce',r.atOnce,'truth',c.answer.place,c.second.place,JSON.stringify(c.faults),'named',JSON.stringify(r.names),((Date.now()-t0)/1000).toFixed(0)+'s');}
