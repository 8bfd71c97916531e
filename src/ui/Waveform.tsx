import { forwardRef, useEffect, useImperativeHandle, useRef } from "react";
import WaveSurfer from "wavesurfer.js";

export interface WaveformHandle {
  playPause(): void;
  /** Plays from a moment; with `until`, loops that stretch until it is stopped, and says so each time it begins anew. */
  playFrom(sec: number, until?: number, anew?: () => void): void;
  pause(): void;
  setRate(rate: number): void;
  rate(): number;
  setVolume(volume: number): void;
  /** The moment that sounds, seconds. */
  time(): number;
}

interface Props {
  url: string;
  peaks: number[];
  seconds: number;
  onTime: (sec: number) => void;
  onPlaying: (playing: boolean) => void;
  onFailed: () => void;
}

/** The take as an outline one can click into. */
export const Waveform = forwardRef<WaveformHandle, Props>(function Waveform(
  { url, peaks, seconds, onTime, onPlaying, onFailed },
  handle,
) {
  const holder = useRef<HTMLDivElement>(null);
  const surfer = useRef<WaveSurfer | null>(null);
  const loop = useRef<{ from: number; until: number; anew?: (() => void) | undefined } | null>(null);
  const listeners = useRef({ onTime, onPlaying, onFailed });
  listeners.current = { onTime, onPlaying, onFailed };

  useEffect(() => {
    if (!holder.current) return;
    const known = peaks.length > 0;
    const wave = WaveSurfer.create({
      container: holder.current,
      url,
      ...(known ? { peaks: [peaks], duration: seconds } : {}),
      height: 52,
      barWidth: 2,
      barGap: 2,
      barRadius: 2,
      waveColor: "#9BB0AD",
      progressColor: "#1F6F6B",
      cursorColor: "#B4791B",
      cursorWidth: 2,
      normalize: true,
    });
    wave.on("timeupdate", (sec) => {
      const stretch = loop.current;
      if (stretch && sec > stretch.until) {
        wave.setTime(stretch.from);
        stretch.anew?.();
      }
      listeners.current.onTime(sec);
    });
    wave.on("play", () => listeners.current.onPlaying(true));
    wave.on("pause", () => listeners.current.onPlaying(false));
    wave.on("interaction", () => {
      loop.current = null;
    });
    wave.on("error", () => listeners.current.onFailed());
    surfer.current = wave;
    return () => {
      loop.current = null;
      wave.destroy();
    };
  }, [url, peaks, seconds]);

  useImperativeHandle(handle, () => ({
    playPause: () => {
      loop.current = null;
      surfer.current?.playPause();
    },
    playFrom: (sec, until, anew) => {
      loop.current = until === undefined ? null : { from: sec, until, anew };
      surfer.current?.setTime(sec);
      surfer.current?.play();
    },
    pause: () => surfer.current?.pause(),
    setRate: (rate) => surfer.current?.setPlaybackRate(rate, true),
    rate: () => surfer.current?.getPlaybackRate() ?? 1,
    setVolume: (volume) => surfer.current?.setVolume(volume),
    time: () => surfer.current?.getCurrentTime() ?? 0,
  }));

  return <div ref={holder} className="panel px-3 py-1" />;
});
