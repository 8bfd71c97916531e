/** Whether a text from an address can be the id of something. */
export function isId(text: string | null | undefined): text is string {
  return /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(text ?? "");
}
