import { useEffect } from "react";
import { create } from "zustand";
import { client, unwrap, type StudyState } from "../api/client";
import { useInterface } from "../common/store/store";
import type { SceneMoment } from "../common/sceneMoment";

/** What is lit, seen and behind while something of it is changed and not stored yet. */
export const useLiveScene = create<{ moment: SceneMoment | null }>()(() => ({ moment: null }));

/** Parts of the document that light, view and surroundings are made of, and what carries them. */
const SCENE = /^\/(lights|cameras|backdrop|ground|finish|markers)(\/|$)/;

/** Asks for the scene as it would be with the changes in the hand; one answer at a time. */
export function useSceneWhileDragged(state: StudyState) {
  const live = useInterface((s) => s.live);
  const frame = useInterface((s) => s.frame);
  const changed = live.some((o) => SCENE.test(o.path));
  useEffect(() => {
    if (!changed) {
      useLiveScene.setState({ moment: null });
      return;
    }
    ask({ study: state.id, operations: live, frame });
  }, [changed, live, frame, state]);
}

interface Asked {
  study: string;
  operations: ReturnType<typeof useInterface.getState>["live"];
  frame: number;
}

let waiting: Asked | null = null;
let busy = false;

/** The latest wins: while one is under way, only the newest waits. */
function ask(asked: Asked) {
  waiting = asked;
  if (!busy) void next();
}

async function next() {
  busy = true;
  while (waiting) {
    const { study, operations, frame } = waiting;
    waiting = null;
    try {
      const answer = await client.POST("/api/studies/{study_id}/scene", {
        params: { path: { study_id: study } },
        body: { operations, frame },
      });
      const moment = unwrap(answer);
      // It may have been stored, or given up, meanwhile.
      if (useInterface.getState().live.length) useLiveScene.setState({ moment });
    } catch {
      // What cannot be is refused when it is stored.
    }
  }
  busy = false;
}
