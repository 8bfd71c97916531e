/** Local day of this device, "2026-11-26". */
export function localDay(now = new Date()): string {
  const two = (part: number) => String(part).padStart(2, "0");
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
}
