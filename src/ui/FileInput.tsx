import { type InputHTMLAttributes, type Ref, useEffect, useImperativeHandle, useRef } from "react";

interface Props extends Omit<InputHTMLAttributes<HTMLInputElement>, "type" | "value" | "onChange"> {
  /** Called with what was chosen, never with nothing. */
  onFiles: (files: File[]) => void;
  ref?: Ref<HTMLInputElement>;
}

/**
 * A field for files. It forgets what it has handed on, so that the same file can be chosen again; and files chosen
 * from the page as the server drew it, before its script was at work, are not lost.
 */
export function FileInput({ onFiles, ref, ...rest }: Props) {
  const input = useRef<HTMLInputElement>(null);
  useImperativeHandle(ref, () => input.current!);
  const handOn = () => {
    const chosen = [...(input.current?.files ?? [])];
    if (input.current) input.current.value = "";
    if (chosen.length > 0) onFiles(chosen);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, for what was chosen before
  useEffect(handOn, []);
  return <input {...rest} ref={input} type="file" onChange={handOn} />;
}
