import { useRoom } from "./useRoom";
import { useEffect, useRef } from "react";
import { keptPictures } from "../common/keptPictures";
import { useInterface } from "../common/store/store";

/** How often the ring and the strip hear of new pictures, in ms. */
const TOLD_EVERY_MS = 250;

/** Puts the set of frames that have pictures where ring and strip see it. */
function useTold() {
  useEffect(() => {
    let timer = 0;
    const tell = () => {
      timer = 0;
      useInterface.getState().set({ pictures: keptPictures.frames });
    };
    const end = keptPictures.watch(() => {
      timer ||= window.setTimeout(tell, TOLD_EVERY_MS);
    });
    return () => {
      end();
      window.clearTimeout(timer);
      keptPictures.clear();
      useInterface.getState().set({ pictures: new Set() });
    };
  }, []);
}

export interface Layer {
  /** Show a picture over the stage; what is drawn below may then wait. */
  show: (picture: ImageBitmap, frame: number | null) => void;
  /** What is drawn below is seen again. */
  hide: () => void;
  /** The moment of the loop whose kept picture is shown. */
  frame: number | null;
  /** Whether a picture is over the stage. */
  covers: boolean;
  /** What it stands for, which is not seen through its clear parts. */
  below: HTMLElement | null;
}

export const layer: Layer = {
  show: () => undefined,
  hide: () => undefined,
  frame: null,
  covers: false,
  below: null,
};

/** A picture that was drawn off screen or kept, over the stage. */
export function KeptLayer() {
  const canvas = useRef<HTMLCanvasElement>(null);
  useTold();
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext("2d");
    if (!element || !context) return;
    layer.show = (picture, frame) => {
      layer.frame = frame;
      layer.covers = true;
      if (element.width !== picture.width || element.height !== picture.height) {
        element.width = picture.width;
        element.height = picture.height;
      }
      // A picture has clear parts, through which the one before would be seen.
      context.globalCompositeOperation = "copy";
      context.drawImage(picture, 0, 0);
      element.style.visibility = "visible";
      if (layer.below) layer.below.style.opacity = "0";
    };
    layer.hide = () => {
      layer.frame = null;
      layer.covers = false;
      element.style.visibility = "hidden";
      if (layer.below) layer.below.style.opacity = "";
    };
    return () => {
      layer.hide();
      layer.show = layer.hide = () => undefined;
    };
  }, []);
  const room = useRoom();
  return (
    <canvas
      ref={canvas}
      aria-hidden
      data-testid="kept-picture"
      style={{
        position: "absolute",
        inset: 0,
        width: `calc(100% - ${room}px)`,
        height: "100%",
        pointerEvents: "none",
        visibility: "hidden",
      }}
    />
  );
}
