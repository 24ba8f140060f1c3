import { useEffect } from "react";
import type { StudyState } from "../api/client";
import { loopOf, documentOf } from "../api/document";
import { useInterface } from "../common/store/store";
import { movedTo } from "./inStep";

/** Longest loop, in seconds, of which the server gives a sound whole. */
const LONGEST = 600;
/** More at once are noise. */
const MOST = 4;

/** The sounds of a study, each as long as its loop. */
export function soundAddresses(sounds: StudyState["sounds"], seconds: number): string[] {
  if (seconds > LONGEST) return [];
  return sounds
    .slice(0, MOST)
    .map(({ name, begin }) => `/api/sounds/${name}/part.wav?begin=${begin}&seconds=${seconds}`);
}

/**
 * While it plays in real time, lets the sounds be heard that the study listens to; they go round with
 * the loop and follow the playhead. Backwards, and frame by frame, there is nothing to hear.
 */
export function useHearing(state: StudyState) {
  const playing = useInterface((s) => s.playing && s.pace === "time" && s.hearing);
  const { frames, rate } = loopOf(documentOf(state));
  const seconds = frames / rate;
  const addresses = soundAddresses(state.sounds, seconds).join("\n");
  useEffect(() => {
    if (!playing || !addresses) return;
    const heard = addresses.split("\n").map((address) => {
      const audio = new Audio(address);
      audio.loop = true;
      audio.volume = 1 / Math.sqrt(addresses.split("\n").length);
      return audio;
    });
    const follow = (frame: number, backwards: boolean) => {
      for (const audio of heard) {
        if (backwards) {
          audio.pause();
          continue;
        }
        const to = movedTo(audio.currentTime, frame / rate, seconds);
        if (to !== null) audio.currentTime = to;
        // A browser may forbid it, or lack the sound: it plays without.
        if (audio.paused) void audio.play().catch(() => undefined);
      }
    };
    follow(useInterface.getState().frame, false);
    const end = useInterface.subscribe((now, before) => {
      if (now.frame !== before.frame && now.playing)
        follow(now.frame, now.mode === "both" && now.frame < before.frame);
    });
    return () => {
      end();
      for (const audio of heard) {
        audio.pause();
        audio.removeAttribute("src");
      }
    };
  }, [playing, addresses, rate, seconds]);
}
