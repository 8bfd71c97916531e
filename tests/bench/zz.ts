import { SOURCES, outcomes } from "./hearing";
import { Tally } from "./hearing-tally";
const shard = Number(process.env.SHARD ?? 0), shards = Number(process.env.SHARDS ?? 1);
const only = process.env.ONLY ? new RegExp(process.env.ONLY) : undefined;
const held = process.env.HELD === "1";
const chosen = SOURCES.filter((s) => s.heldOut === held).filter((_, i) => i % shards === shard).filter((s)=>!process.env.SRC || new RegExp(process.env.SRC).test(s.name));
const groups = new Map<string, Tally>();
const get = (k: string) => groups.get(k) ?? groups.set(k, new Tally()).get(k)!;
for await (const o of outcomes(chosen, Number(process.env.N ?? 1), only)) {
  const tell = process.env.TELL ? (t: string) => console.log(`${o.source}/${o.condition}/${o.way}/${o.seed}: ${t}`) : undefined;
  get("ALL").add(o, tell);
  get("S " + o.source).add(o); get("C " + o.condition).add(o); get("W " + o.way).add(o);
}
if (process.env.OUT) { const { writeFileSync } = await import("node:fs"); writeFileSync(process.env.OUT, JSON.stringify([...groups])); }
else for (const [k, t] of [...groups].sort((a, b) => a[0][0]! < b[0][0]! ? -1 : a[0][0]! > b[0][0]! ? 1 : a[1].f1 - b[1].f1)) console.log(k.padEnd(34), t.line());
