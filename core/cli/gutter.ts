import { run } from './main';

process.exitCode = run(process.argv.slice(2), (s) => console.log(s), (s) => console.error(s));
