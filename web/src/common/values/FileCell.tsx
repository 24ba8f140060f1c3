import { Box, Button, Typography } from "@mui/material";
import { useRef, type ReactNode } from "react";
import { useInterface } from "../store/store";

interface Props {
  value: string;
  /** Name and size of the file, or why it is not here. */
  said: ReactNode;
  icon: ReactNode;
  /** Names of the button and of the field, for those who do not see them. */
  choose: string;
  field: string;
  accept: string;
  send: (file: File) => Promise<{ digest: string }>;
  pick: (digest: string) => void;
  before?: ReactNode;
  children?: ReactNode;
}

/** A file that was brought in: what it is, and another in its place. */
export function FileCell({ value, said, icon, send, pick, ...props }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const bring = async (file: File) => {
    try {
      pick((await send(file)).digest);
    } catch (error) {
      const text = `${file.name}: ${(error as Error).message}`;
      useInterface.getState().say({ text, tone: "error" });
    }
  };
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, minWidth: 0, py: 0.25, flex: 1 }}>
      {value && props.before}
      {value && (
        <Typography variant="caption" color="textSecondary" noWrap sx={{ flex: 1 }}>
          {said}
        </Typography>
      )}
      <Button
        variant="outlined"
        startIcon={icon}
        aria-label={props.choose}
        onClick={() => input.current?.click()}
        sx={{ flex: "none", py: 0 }}
      >
        {value ? "Other" : "Choose"}
      </Button>
      {props.children}
      <input
        ref={input}
        type="file"
        hidden
        aria-label={props.field}
        accept={props.accept}
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          // The same file may be chosen again after it was changed.
          e.target.value = "";
          if (file) void bring(file);
        }}
      />
    </Box>
  );
}
