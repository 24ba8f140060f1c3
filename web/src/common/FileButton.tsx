import FileOpenOutlined from "@mui/icons-material/FileOpenOutlined";
import { Button } from "@mui/material";
import { useRef } from "react";

const MESHES = ".obj,.ply,.stl,.glb,.usd,.usda,.usdc,.usdz,.svg";

/** Lets files be picked, for those who do not drop them. */
export function FileButton(props: {
  label: string;
  /** Whether study files are meant too. */
  studies?: boolean;
  bring: (files: File[]) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button
        variant="outlined"
        startIcon={<FileOpenOutlined />}
        onClick={() => input.current?.click()}
        sx={{ whiteSpace: "nowrap" }}
      >
        {props.label}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        multiple
        aria-label={props.studies ? "Mesh or study file" : "Mesh file"}
        accept={props.studies ? `${MESHES},.json,.zip` : MESHES}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          e.target.value = "";
          props.bring(files);
        }}
      />
    </>
  );
}
