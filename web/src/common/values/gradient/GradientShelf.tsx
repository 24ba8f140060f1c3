import Close from "@mui/icons-material/Close";
import { Box, Button, IconButton, TextField, Typography } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, unwrap } from "../../../api/client";
import type { DocValue, OwnGradient } from "../../../api/document";
import { useCatalogue } from "../../../api/queries";
import { gradientCss } from "../../../model/gradientStops";
import { PlainButton } from "../../PlainButton";
import { useInterface } from "../../store/store";

const KEPT = ["gradients"];

/** Gradients that come with the program, and those that were kept, which all studies share. */
export function GradientShelf(props: {
  gradient: OwnGradient;
  name: string;
  store: (value: DocValue, label?: string) => void;
}) {
  const bundled = useCatalogue().data?.gradients ?? [];
  const queries = useQueryClient();
  const say = useInterface((s) => s.say);
  const [name, setName] = useState("");
  const kept = useQuery({
    queryKey: KEPT,
    queryFn: async () => unwrap(await client.GET("/api/gradients")).gradients,
  });
  const change = async (ask: () => Promise<unknown>) => {
    try {
      await ask();
      await queries.invalidateQueries({ queryKey: KEPT });
    } catch (error) {
      say({ text: (error as Error).message, tone: "error" });
    }
  };
  const keep = () =>
    change(async () => {
      const { stops, join = "smooth", mix = "perceptual" } = props.gradient;
      const body = { name: name.trim(), gradient: { stops, join, mix } };
      unwrap(await client.POST("/api/gradients", { body }));
      setName("");
    });
  const remove = (id: string) =>
    change(() =>
      client.DELETE("/api/gradients/{gradient_id}", { params: { path: { gradient_id: id } } }),
    );
  return (
    <Box sx={{ mt: 1 }}>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr", columnGap: 1, rowGap: 0.25 }}>
        {bundled.map((each) => (
          <Choice
            key={each.key}
            name={each.key}
            background={gradientCss({ stops: each.stops })}
            chosen={each.key === props.name}
            take={() => props.store(each.key, `Take ${each.key}`)}
          />
        ))}
        {(kept.data ?? []).map((each) => (
          <Box key={each.id} sx={{ position: "relative" }}>
            <Choice
              name={each.name}
              background={gradientCss(each.gradient)}
              chosen={false}
              take={() => props.store(each.gradient, `Take ${each.name}`)}
            />
            <IconButton
              aria-label={`Remove the gradient ${each.name} for all studies`}
              onClick={() => void remove(each.id)}
              sx={{ position: "absolute", right: 0, bottom: 0, p: 0 }}
            >
              <Close sx={{ fontSize: 13 }} />
            </IconButton>
          </Box>
        ))}
      </Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, mt: 1 }}>
        <TextField
          variant="standard"
          placeholder="keep it for all studies as…"
          value={name}
          onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter" && name.trim()) void keep();
          }}
          slotProps={{ htmlInput: { "aria-label": "Name to keep it under", maxLength: 60 } }}
          sx={{ flex: 1 }}
        />
        <Button disabled={!name.trim()} onClick={() => void keep()}>
          Keep
        </Button>
      </Box>
    </Box>
  );
}

function Choice(props: { name: string; background: string; chosen: boolean; take: () => void }) {
  return (
    <PlainButton
      aria-label={`Take the gradient ${props.name}`}
      aria-pressed={props.chosen}
      onClick={props.take}
      sx={{ cursor: "pointer", width: "100%", borderRadius: 1 }}
    >
      <Box
        sx={{
          height: 14,
          borderRadius: "4px",
          outline: props.chosen ? "2px solid" : "none",
          outlineOffset: 1,
          background: props.background,
        }}
      />
      <Typography
        variant="caption"
        noWrap
        component="span"
        sx={{ display: "block", color: "text.secondary" }}
      >
        {props.name}
      </Typography>
    </PlainButton>
  );
}
