import { useNavigate } from "react-router";
import type { Catalogue, CatalogueEntry, StudyState } from "../api/client";
import { type Piece, documentOf } from "../api/document";
import { useCatalogue, useStudyNames } from "../api/queries";
import { useTakeBack } from "../common/edits";
import { useInterface, useParts, type DrawMode } from "../common/store/store";
import type { Found } from "../find/Finder";
import { KEYS } from "../find/keys";
import { reveal } from "../find/revealed";
import { lookRow, stepOwner } from "../model/maskOwner";
import { PLACE_ROW } from "../model/rowIds";
import { foldKey } from "../model/rows";
import { NEW_TABLE } from "../model/tableState";
import { useAddStep } from "../recipe/AddStep";
import { usePieceActions } from "../recipe/PieceMenu";
import { useAddLayer } from "../recipe/useAddLayer";
import { useAddMarker } from "../recipe/useAddMarker";
import { useKeepView } from "../common/useKeepView";
import { useStudyActions } from "../study/StudyMenu";

const DRAWN: Record<DrawMode, string> = {
  surface: "Draw the surface",
  edges: "Draw the surface with its edges",
  wire: "Draw edges alone",
  points: "Draw points alone",
  traced: "Draw by path tracing, as a preview render",
};

function useDoings(state: StudyState): Found[] {
  const { playing, table, heat, theme, set } = useParts("playing", "table", "heat", "theme", "set");
  const go = useNavigate();
  const takeBack = useTakeBack(state.id);
  const actions = useStudyActions(state);
  const own: Omit<Found, "group">[] = [
    {
      name: playing ? "Pause" : "Play",
      keys: KEYS.play.keys,
      also: ["run", "stop", "animate"],
      run: () => set({ playing: !playing }),
    },
    { name: "Undo", keys: KEYS.undo.keys, also: ["back"], run: () => takeBack.mutate("undo") },
    { name: "Redo", keys: KEYS.redo.keys, run: () => takeBack.mutate("redo") },
    {
      name: "Deliver",
      also: ["export", "save", "download", "GLB", "glTF", "USD", "OBJ", "PLY", "STL", "JSON"],
      run: () => set({ dialog: "deliver" }),
    },
    {
      name: "Queue of deliveries",
      also: ["render", "jobs", "frames", "progress"],
      run: () => void go("/queue"),
    },
    {
      name: table ? "Close the table" : "Table of points and faces",
      also: ["CSV", "spreadsheet", "numbers", "attributes"],
      run: () => set({ table: table ? null : NEW_TABLE }),
    },
    { name: "History", also: ["versions", "edits"], run: () => set({ dialog: "history" }) },
    {
      name: "Heat of the mask",
      keys: KEYS.heat.keys,
      also: ["weights", "show mask"],
      run: () => set({ heat: !heat }),
    },
    {
      name: "Fit to loop",
      also: ["seam", "close the loop", "seamless", "repeat"],
      run: () => set({ seamShown: true }),
    },
    {
      name: "Findings",
      also: ["warnings", "errors", "problems", "mistakes"],
      run: () => set({ sheet: "findings" }),
    },
    {
      name: "Light and scene",
      also: ["lights", "lamp", "backdrop", "background", "ground", "shadow", "bloom", "exposure"],
      run: () => set({ sheet: "light" }),
    },
    {
      name: "Hear the sound, or not",
      also: ["audio", "music", "mute", "volume", "silent"],
      run: () => set({ hearing: !useInterface.getState().hearing }),
    },
    {
      name: "List of keys",
      keys: KEYS.help.keys,
      also: ["help", "shortcuts", "keyboard"],
      run: () => set({ dialog: "keys" }),
    },
    {
      name: "Back to the gallery",
      also: ["home", "studies", "close"],
      run: () => void go("/"),
    },
    {
      name: "Add a piece",
      also: ["form", "mesh", "new", "import", "bring a file"],
      run: () => set({ dialog: "piece" }),
    },
    ...actions
      .filter((a) => a.label === "Rename" || a.label === "Duplicate")
      .map((a) => ({ name: `${a.label} the study`, run: a.run })),
    {
      name: theme === "paper" ? "Night theme" : "Paper theme",
      also: ["dark", "light", "colours"],
      run: () => set({ theme: theme === "paper" ? "night" : "paper" }),
    },
  ];
  return own.map((each) => ({ group: "Do", ...each }));
}

function useViews(state: StudyState): Found[] {
  const keepView = useKeepView(state);
  const { four, quality, draw, set, look, fit } = useParts(
    "four",
    "quality",
    "draw",
    "set",
    "look",
    "fit",
  );
  const own: Omit<Found, "group">[] = [
    {
      name: "Fit in view",
      keys: KEYS.fit.keys,
      also: ["frame", "zoom", "centre", "whole"],
      run: fit,
    },
    {
      name: four ? "One view" : "Four views",
      keys: KEYS.four.keys,
      run: () => set({ four: !four }),
    },
    { name: "Study’s own view", also: ["perspective", "camera"], run: () => look("perspective") },
    {
      name: "Keep this view",
      also: ["camera", "remember", "study’s own view"],
      run: () => void keepView("set"),
    },
    {
      name: "Keep this view as another camera",
      also: ["camera", "new", "add"],
      run: () => void keepView("new"),
    },
    {
      name: "Key the camera from this view",
      also: ["camera", "animate", "keyframe"],
      run: () => void keepView("key"),
    },
    { name: "Through the camera", also: ["look", "frame", "format"], run: () => look("camera") },
    {
      name: "Cameras",
      also: ["lens", "focus", "aperture", "depth of field", "shake", "format", "path"],
      run: () => set({ sheet: "camera" }),
    },
    ...(["front", "side", "top"] as const).map((v) => ({
      name: `View from the ${v}`,
      run: () => look(v),
    })),
    {
      name: quality === "draft" ? "Final quality" : "Draft quality",
      also: ["resolution", "detail", "setting"],
      run: () => set({ quality: quality === "draft" ? "final" : "draft" }),
    },
    ...(Object.keys(DRAWN) as DrawMode[])
      .filter((mode) => mode !== draw)
      .map((mode) => ({
        name: DRAWN[mode],
        also: ["wireframe", "shading", "display", "setting", "render"],
        run: () => set({ draw: mode }),
      })),
  ];
  return own.map((each) => ({ group: "View", ...each }));
}

/** The values of a step, of which each is shown where it stands. */
function valuesOf(
  entry: CatalogueEntry | undefined,
  title: string,
  open: (name: string) => void,
): Found[] {
  return Object.entries(entry?.values ?? {}).map(([name, value]) => ({
    group: "Values of this piece",
    name: `${value.label} of ${title}`,
    also: [value.label],
    help: value.help,
    run: () => open(name),
  }));
}

/** The mask layers of all steps of a piece. */
function layersOf(
  piece: Piece | undefined,
  catalogue: Catalogue | undefined,
  open: (step: string, layer: string) => void,
): Found[] {
  return (piece?.recipe ?? []).flatMap((step, k) =>
    (step.where?.layers ?? []).map((layer) => {
      const entry = catalogue?.layers.find((l) => l.key === layer.layer);
      const titles = [...(catalogue?.forms ?? []), ...(catalogue?.steps ?? [])];
      const title = titles.find((s) => s.key === step.step)?.title ?? step.step;
      return {
        group: "Masks of this piece",
        name: `${entry?.title ?? layer.layer} of ${k + 1} ${title}`,
        also: [entry?.title ?? "", "mask", "where", ...(entry?.also ?? [])],
        help: entry?.help,
        run: () => open(step.id, layer.id),
      };
    }),
  );
}

function usePieces(state: StudyState, piece: Piece | undefined): Found[] {
  const { set, fold } = useParts("set", "fold");
  const catalogue = useCatalogue().data;
  const actions = usePieceActions(state, piece);
  const entries = [...(catalogue?.forms ?? []), ...(catalogue?.steps ?? [])];
  const entryOf = (key: string) => entries.find((entry) => entry.key === key);
  const steps = (piece?.recipe ?? []).map((step, k) => {
    const entry = entryOf(step.step);
    return { step, entry, title: `${k + 1} ${entry?.title ?? step.step}` };
  });
  return [
    ...steps.map(({ step, entry, title }) => ({
      group: "Rows of this piece",
      name: `${title}${step.note ? `: ${step.note}` : ""}`,
      also: [entry?.title ?? "", ...(entry?.also ?? [])],
      run: () => set({ step: step.id }),
    })),
    ...(piece
      ? [
          {
            group: "Rows of this piece",
            name: "Place of the piece",
            also: ["move", "turn", "rotate", "scale", "position", "carried by"],
            run: () => set({ step: PLACE_ROW }),
          },
          {
            group: "Rows of this piece",
            name: "Look of the piece",
            also: ["colour", "gradient", "material", "roughness", "glow", "light", "shading"],
            run: () => set({ step: lookRow(piece.looks?.[0]?.id ?? "") }),
          },
        ]
      : []),
    ...steps.flatMap(({ step, entry, title }) =>
      valuesOf(entry, title, (name) => {
        set({ step: step.id, ribbon: "what", sought: name });
        reveal(name);
      }),
    ),
    ...layersOf(piece, catalogue, (step, layer) =>
      set({ step, ribbon: "where", layer, solo: null }),
    ),
    ...actions.map((action) => ({
      group: "Do with this piece",
      name: `${action.label} (${piece?.name})`,
      also: [action.label],
      run: action.run,
    })),
    ...(piece?.groups ?? []).map((group) => ({
      group: "Groups of this piece",
      name: group.name,
      run: () => {
        fold(foldKey(state.id, piece!.id, group.id), false);
        set({ step: piece!.recipe.find((s) => s.group === group.id)?.id ?? null });
      },
    })),
    ...documentOf(state)
      .pieces.filter((p) => p.id !== piece?.id)
      .flatMap((p) => [
        {
          group: "Pieces",
          name: p.name,
          run: () => set({ piece: p.id, step: null, solo: null, layer: null }),
        },
        ...p.recipe.map((step, k) => {
          const entry = entryOf(step.step);
          return {
            group: "Rows of other pieces",
            name: `${k + 1} ${entry?.title ?? step.step} of ${p.name}`,
            also: [entry?.title ?? "", p.name, step.note ?? ""],
            run: () => set({ piece: p.id, step: step.id, solo: null, layer: null }),
          };
        }),
      ]),
  ];
}

/** Everything that is found by typing. */
export function useCommands(state: StudyState, piece: Piece | undefined): Found[] {
  const set = useInterface((s) => s.set);
  const step = useInterface((s) => s.step);
  const go = useNavigate();
  const catalogue = useCatalogue().data;
  const studies = useStudyNames(state.id);
  const add = useAddStep(state, piece);
  const addMarker = useAddMarker(state.id);
  const masked = piece?.recipe.slice(1).find((s) => s.id === step);
  const owner = piece && masked ? stepOwner(piece, masked) : undefined;
  const addLayer = useAddLayer(state, piece, owner);
  const doings = useDoings(state);
  const views = useViews(state);
  const pieces = usePieces(state, piece);
  const after = piece?.recipe.some((s) => s.id === step) ? step : piece?.recipe.at(-1)?.id;
  return [
    ...doings,
    ...views,
    ...pieces,
    ...(documentOf(state).markers ?? []).map((m) => ({
      group: "Markers",
      name: m.name,
      run: () => set({ marker: m.id }),
    })),
    {
      group: "Markers",
      name: "Add a marker",
      also: ["null", "path", "place", "locator"],
      run: () => void addMarker(),
    },
    ...(catalogue?.steps ?? []).map((entry) => ({
      group: "Add a step",
      name: `Add ${entry.title.toLowerCase()}`,
      also: [entry.title, ...entry.also],
      help: entry.help,
      run: () => void add(entry, after ?? null),
    })),
    ...(masked ? (catalogue?.layers ?? []).filter((d) => !d.in_looks) : []).map((entry) => ({
      group: "Add to the mask of the open step",
      name: `Where: ${entry.title.toLowerCase()}`,
      also: [entry.title, ...entry.also],
      help: entry.help,
      run: () => void addLayer(entry.key),
    })),
    ...studies.map((s) => ({
      group: "Open a study",
      name: s.name,
      run: () => void go(`/study/${s.id}`),
    })),
  ];
}
