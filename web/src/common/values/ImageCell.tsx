import Close from "@mui/icons-material/Close";
import ImageOutlined from "@mui/icons-material/ImageOutlined";
import { Box, IconButton, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { sendFilm, sendImage } from "../../api/queries";
import { FileCell } from "./FileCell";

interface Props {
  value: string;
  label: string;
  pick: (picture: string) => void;
}

const PICTURE = {
  field: "Picture file",
  accept: ".png,.jpg,.jpeg,.webp,.tif,.tiff,.hdr",
  send: sendImage,
};
const FILM = {
  field: "Film file",
  accept: ".mp4,.m4v,.mov,.webm,.gif,.webp,.zip",
  send: sendFilm,
};

/** A picture: how it looks, and another in its place. */
export const ImageCell = (props: Props) => <ShownFile {...props} of={PICTURE} />;

/** The same of a film, or a ZIP of pictures. */
export const FilmCell = (props: Props) => <ShownFile {...props} of={FILM} />;

function ShownFile({ value, label, pick, of }: Props & { of: typeof PICTURE }) {
  const known = useQuery({
    queryKey: ["picture", value],
    queryFn: async () =>
      unwrap(await client.GET("/api/images/{digest}", { params: { path: { digest: value } } })),
    enabled: value !== "",
    staleTime: Infinity,
    retry: false,
  });
  return (
    <FileCell
      value={value}
      said={
        known.data
          ? [
              known.data.filename,
              `${known.data.width} × ${known.data.height}`,
              ...((known.data.frames ?? 1) > 1 ? [`${known.data.frames} pictures`] : []),
            ].join(", ")
          : known.isError && "not stored here"
      }
      icon={<ImageOutlined />}
      choose={`${label}: choose a file`}
      {...of}
      pick={pick}
      before={
        <Box
          component="img"
          src={`/api/images/${value}/small.webp`}
          alt=""
          sx={{ width: 44, height: 30, objectFit: "cover", borderRadius: 1, flex: "none" }}
        />
      }
    >
      {value ? (
        <IconButton aria-label={`${label}: none`} onClick={() => pick("")} sx={{ p: 0.25 }}>
          <Close fontSize="inherit" />
        </IconButton>
      ) : (
        <Typography variant="caption" color="textSecondary" noWrap>
          a weave until then
        </Typography>
      )}
    </FileCell>
  );
}
