import ExpandMore from "@mui/icons-material/ExpandMore";
import { IconButton } from "@mui/material";
import { useState } from "react";
import { useNavigate } from "react-router";
import { client, unwrap, type StudyState } from "../api/client";
import { documentOf } from "../api/document";
import { readStudyNames } from "../api/queries";
import { ActionMenu, type Action } from "../common/ActionMenu";
import { useInterface } from "../common/store/store";
import { freeName } from "../model/names";

/** What can be done with the study as a whole. */
export function useStudyActions(state: StudyState): Action[] {
  const { set, say } = useInterface.getState();
  const go = useNavigate();
  const document = documentOf(state);
  const duplicate = async () => {
    try {
      const names = (await readStudyNames()).map((s) => s.name);
      const name = freeName(document.name, [document.name, ...names]);
      const made = unwrap(
        await client.POST("/api/studies", { body: { document: { ...document, name } as never } }),
      );
      await go(`/study/${made.id}`);
      say({ text: `“${name}” is a copy of “${document.name}”.`, tone: "info" });
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
  return [
    { label: "Rename", later: true, run: () => set({ naming: "study" }) },
    { label: "Duplicate", run: () => void duplicate() },
    { label: "Deliver…", run: () => set({ dialog: "deliver" }) },
    { label: "History…", run: () => set({ dialog: "history" }) },
  ];
}

/** Behind the study's name. */
export function StudyMenu({ state }: { state: StudyState }) {
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const actions = useStudyActions(state);
  return (
    <>
      <IconButton
        aria-label="Actions for the study"
        size="small"
        sx={{ ml: -1 }}
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          setAt({ x: box.left, y: box.bottom });
        }}
      >
        <ExpandMore fontSize="small" />
      </IconButton>
      <ActionMenu at={at} close={() => setAt(null)} actions={actions} />
    </>
  );
}
