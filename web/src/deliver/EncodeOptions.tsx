import { Box, Button, Typography } from "@mui/material";
import { useRef, useState } from "react";
import { filesOf } from "../common/droppedFiles";
import { Choose, Figure, Row } from "./formRows";
import { bytesWords } from "../model/jobWords";
import type { Effort } from "./pictureOptions";

export type ClipKind = "mp4" | "webm" | "av1" | "gif" | "webp";

/** What is chosen for a clip of pictures that are there. */
export interface EncodeChoice {
  files: File[];
  kind: ClipKind;
  rate: string;
  effort: Effort;
}

const KINDS: [ClipKind, string][] = [
  ["mp4", "MP4, H.264"],
  ["webm", "WebM, VP9"],
  ["av1", "WebM, AV1"],
  ["gif", "GIF"],
  ["webp", "Animated WebP"],
];

interface Props {
  chosen: EncodeChoice;
  choose: (change: Partial<EncodeChoice>) => void;
}

/** Pictures or a clip that are there, and what becomes of them. */
export function EncodeOptions({ chosen, choose }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const total = chosen.files.reduce((sum, file) => sum + file.size, 0);
  const [first] = chosen.files;
  return (
    <>
      <Box
        data-testid="drop-pictures"
        onDragOver={(e) => {
          e.preventDefault();
          e.stopPropagation();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault();
          e.stopPropagation();
          setOver(false);
          void filesOf(e.dataTransfer).then((files) => choose({ files }));
        }}
        sx={{
          border: "1px dashed",
          borderColor: over ? "text.primary" : "divider",
          borderRadius: 2,
          p: 2,
          my: 1,
          textAlign: "center",
        }}
      >
        <Typography variant="body2" sx={{ mb: 0.5 }}>
          {first
            ? `${chosen.files.length === 1 ? first.name : `${chosen.files.length} files`}, ${bytesWords(total)}`
            : "Drop PNG files or their folder, a ZIP of them, or a clip here."}
        </Typography>
        <Button onClick={() => input.current?.click()}>Choose files…</Button>
        <input
          ref={input}
          type="file"
          multiple
          hidden
          aria-label="Pictures or a clip"
          accept=".png,.zip,.mp4,.webm,.mov,.mkv,.gif"
          onChange={(e) => choose({ files: [...(e.target.files ?? [])] })}
        />
      </Box>
      <Row label="Into">
        <Choose
          label="Into"
          value={chosen.kind}
          options={KINDS}
          pick={(kind) => choose({ kind })}
        />
        <Choose
          label="File"
          value={chosen.effort}
          options={[
            ["small", "small file"],
            ["good", "good"],
            ["best", "best, large file"],
          ]}
          pick={(effort) => choose({ effort })}
        />
      </Row>
      <Row label="Rate">
        <Figure
          label="Pictures a second"
          value={chosen.rate}
          put={(rate) => choose({ rate })}
          placeholder="as it is"
        />
        <Typography variant="body2">
          pictures a second; of a clip the seconds stay, pictures need it said
        </Typography>
      </Row>
    </>
  );
}
