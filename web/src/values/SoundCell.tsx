import GraphicEqOutlined from "@mui/icons-material/GraphicEqOutlined";
import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { client, unwrap } from "../api/client";
import { sendSound } from "../api/queries";
import { useInterface } from "../state/store";

interface Props {
  value: string;
  label: string;
  pick: (sound: string) => void;
}

/** A sound that was brought in: its name and length, and another in its place. */
export function SoundCell({ value, label, pick }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const known = useQuery({
    queryKey: ["sound", value],
    queryFn: async () =>
      unwrap(
        await client.GET("/api/sounds/{name}", {
          params: { path: { name: value }, query: { peaks: 1 } },
        }),
      ),
    enabled: value !== "",
    staleTime: Infinity,
    retry: false,
  });
  const bring = async (file: File) => {
    try {
      pick((await sendSound(file)).digest);
    } catch (error) {
      const text = `${file.name}: ${(error as Error).message}`;
      useInterface.getState().say({ text, tone: "error" });
    }
  };
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, minWidth: 0, py: 0.25, flex: 1 }}>
      {value && (
        <Typography variant="caption" color="textSecondary" noWrap sx={{ flex: 1 }}>
          {known.data
            ? `${known.data.filename}, ${known.data.seconds.toFixed(1)} s`
            : known.isError && "not stored here"}
        </Typography>
      )}
      <Button
        variant="outlined"
        startIcon={<GraphicEqOutlined />}
        aria-label={`${label}: choose a sound`}
        onClick={() => input.current?.click()}
        sx={{ flex: "none", py: 0 }}
      >
        {value ? "Other" : "Choose"}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        accept=".wav,.flac,.ogg,audio/wav,audio/flac,audio/ogg"
        data-testid="sound-file"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) void bring(file);
        }}
      />
    </Box>
  );
}
