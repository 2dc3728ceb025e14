// What must stand nowhere: read from the networks' own books, as only a test may.
import { execFileSync } from 'node:child_process';

/** Every key that the stand-ins have issued. */
export function keysOfNetworks(folder: string): string[] {
  const script = `const D=require('better-sqlite3');const d=new D(process.argv[1],{readonly:true});console.log(JSON.stringify(d.prepare('select "key" k from lines').all().map((row) => row.k)))`;
  return JSON.parse(execFileSync(process.execPath, ['-e', script, `${folder}/networks/networks.sqlite`], { encoding: 'utf8' })) as string[];
}
