import GraphicEqOutlined from "@mui/icons-material/GraphicEqOutlined";
import { useQuery } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { sendSound } from "../../api/queries";
import { FileCell } from "./FileCell";

interface Props {
  value: string;
  label: string;
  pick: (sound: string) => void;
}

/** A sound that was brought in: its name and length, and another in its place. */
export function SoundCell({ value, label, pick }: Props) {
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
  return (
    <FileCell
      value={value}
      said={
        known.data
          ? `${known.data.filename}, ${known.data.seconds.toFixed(1)} s`
          : known.isError && "not stored here"
      }
      icon={<GraphicEqOutlined />}
      choose={`${label}: choose a sound`}
      field="Sound file"
      accept=".wav,.flac,.ogg,audio/wav,audio/flac,audio/ogg"
      send={sendSound}
      pick={pick}
    />
  );
}
