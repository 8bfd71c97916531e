import { FASTEST_BPM, SLOWEST_BPM } from "../core/score";
import { Count } from "./Pick";

interface Props {
  bpm: number;
  change: (bpm: number) => void;
  label?: string;
  least?: number;
  most?: number;
}

/** Beats a minute, the one way to set a tempo with a number. */
export function TempoField({ bpm, change, label = "Tempo", least = SLOWEST_BPM, most = FASTEST_BPM }: Props) {
  return <Count label={label} value={bpm} least={least} most={most} change={change} />;
}
