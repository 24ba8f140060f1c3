import ImageOutlined from "@mui/icons-material/ImageOutlined";
import { Box, Button, IconButton, Typography } from "@mui/material";
import Close from "@mui/icons-material/Close";
import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { client, unwrap } from "../api/client";
import { sendPicture } from "../api/queries";
import { useInterface } from "../state/store";

interface Props {
  value: string;
  label: string;
  pick: (picture: string) => void;
}

/** A picture of heights: how it looks, and another in its place. */
export function PictureCell({ value, label, pick }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const known = useQuery({
    queryKey: ["picture", value],
    queryFn: async () =>
      unwrap(await client.GET("/api/pictures/{digest}", { params: { path: { digest: value } } })),
    enabled: value !== "",
    staleTime: Infinity,
    retry: false,
  });
  const bring = async (file: File) => {
    try {
      pick((await sendPicture(file)).digest);
    } catch (error) {
      const text = `${file.name}: ${(error as Error).message}`;
      useInterface.getState().say({ text, tone: "error" });
    }
  };
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, minWidth: 0, py: 0.25, flex: 1 }}>
      {value && (
        <Box
          component="img"
          src={`/api/pictures/${value}/small.webp`}
          alt=""
          sx={{ width: 44, height: 30, objectFit: "cover", borderRadius: 1, flex: "none" }}
        />
      )}
      {value && (
        <Typography variant="caption" color="textSecondary" noWrap sx={{ flex: 1 }}>
          {known.data
            ? `${known.data.filename}, ${known.data.width} × ${known.data.height}`
            : known.isError && "not stored here"}
        </Typography>
      )}
      <Button
        variant="outlined"
        startIcon={<ImageOutlined />}
        aria-label={`${label}: choose a file`}
        onClick={() => input.current?.click()}
        sx={{ flex: "none", py: 0 }}
      >
        {value ? "Other" : "Choose"}
      </Button>
      {value ? (
        <IconButton aria-label={`${label}: none`} onClick={() => pick("")} sx={{ p: 0.25 }}>
          <Close fontSize="inherit" />
        </IconButton>
      ) : (
        <Typography variant="caption" color="textSecondary" noWrap>
          a weave until then
        </Typography>
      )}
      <input
        ref={input}
        type="file"
        hidden
        aria-label="Picture file"
        accept=".png,.jpg,.jpeg,.webp,.tif,.tiff"
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          e.target.value = "";
          if (file) void bring(file);
        }}
      />
    </Box>
  );
}
