import CallSplit from "@mui/icons-material/CallSplit";
import { Box, Tooltip } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import type { Lane, StudyState, ValueEntry } from "../../api/client";
import {
  isPair,
  isSignal,
  loopOf,
  type DocValue,
  type Scalar,
  documentOf,
} from "../../api/document";
import { laneValue } from "../../model/lanes";
import { variantOf } from "../../model/variantOf";
import { useInterface } from "../store/store";
import { ValueMenu } from "./ValueMenu";
import { PlainButton } from "../PlainButton";

interface Props {
  entry: ValueEntry;
  /** Of the value in the document; without it there is nothing to be done with it here. */
  address?: string;
  value: DocValue;
  lanes: Lane[];
  /** Path of the value, as lanes name it. */
  path: string;
  openSignal?: () => void;
}

/** What a value is called; behind it is what can be done with the value. */
export function ValueName({ entry, address, value, lanes, path, openSignal }: Props) {
  const { id } = useParams();
  const state = useQueryClient().getQueryData<StudyState>(["study", id]);
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  if (!address || !state) {
    return (
      <Tooltip title={entry.help} placement="left">
        <Box component="span" sx={{ typography: "body2", ...CUT }}>
          {entry.label}
        </Box>
      </Tooltip>
    );
  }
  const { frames } = loopOf(documentOf(state));
  const numberNow = (part: Scalar, at: string): number => {
    const { frame, quality } = useInterface.getState();
    if (isPair(part)) return numberNow(part[quality], at);
    if (!isSignal(part)) return Number(part);
    return (
      laneValue(
        lanes.find((l) => l.path === at),
        frame,
        frames,
      ) ?? 0
    );
  };
  const now = Array.isArray(value)
    ? (value as Scalar[]).map((part, k) => numberNow(part, `${path}/${k}`))
    : [numberNow(value as Scalar, path)];
  const variant = variantOf(documentOf(state), address);
  return (
    <>
      <Tooltip title={entry.help} placement="left">
        <PlainButton
          aria-haspopup="menu"
          onClick={(e) => {
            const box = e.currentTarget.getBoundingClientRect();
            setAt({ x: box.left, y: box.bottom });
          }}
          onContextMenu={(e) => {
            e.preventDefault();
            e.stopPropagation();
            setAt({ x: e.clientX, y: e.clientY });
          }}
          sx={{
            typography: "body2",
            cursor: "pointer",
            ...CUT,
            "&:hover, &:focus-visible": { textDecoration: "underline dotted 1px" },
          }}
        >
          {entry.label}
          {variant && (
            <CallSplit
              titleAccess={`“${variant.name}” switches it`}
              sx={{
                fontSize: 13,
                ml: 0.5,
                verticalAlign: "-2px",
                transform: "rotate(90deg)",
                color: "roles.what",
              }}
            />
          )}
        </PlainButton>
      </Tooltip>
      {at && (
        <ValueMenu
          at={at}
          close={() => setAt(null)}
          state={state}
          address={address}
          entry={entry}
          value={value}
          now={now}
          openSignal={openSignal}
        />
      )}
    </>
  );
}

const CUT = { overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" } as const;
