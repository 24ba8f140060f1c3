import { Box, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import { isOn } from "../../api/document";
import { useCatalogue } from "../../api/queries";
import { PlainButton } from "../../common/PlainButton";
import { useInterface, type Ribbon } from "../../common/store/store";
import { useChange } from "../../common/useStep";
import { lookColours, oneOf, stripOf } from "../../model/lookColours";
import { lookRow } from "../../model/maskOwner";
import { IntoView } from "../IntoView";
import { Side } from "../Side";
import { Sparkline } from "../Sparkline";
import { UseDot } from "../../common/UseDot";
import { When } from "../When";
import type { LookProps } from "./lookProps";
import { LookMenu } from "./LookMenu";
import { LookWhat } from "./LookWhat";
import { LookWhere } from "./LookWhere";

/** One look: a line when closed, with its three ribbons when chosen. */
export function LookRow(props: LookProps & { number: number }) {
  const { state, piece, look, number, words } = props;
  const catalogue = useCatalogue().data;
  const chosen = useInterface((s) => s.step === lookRow(look.id));
  const ribbon = useInterface((s) => s.ribbon);
  const set = useInterface((s) => s.set);
  const [menu, setMenu] = useState<{ x: number; y: number } | null>(null);
  const base = `/pieces/${piece.id}/looks/${look.id}`;
  const change = useChange(state.id, base);
  const first = piece.looks?.find(isOn)?.id === look.id;
  const alone = piece.looks?.length === 1;
  const colours = lookColours(look, catalogue);
  const title = look.name || (number === 0 ? "Look" : `Look ${number + 1}`);
  const body: Record<Ribbon, ReactNode> = {
    what: <LookWhat {...props} />,
    where: <LookWhere {...props} first={first} />,
    when: <When state={state} piece={piece} step="" base={base} words={words} />,
  };
  const where = first ? "everywhere, under all others" : words.where;
  return (
    <Box
      data-look={look.id}
      sx={{
        borderBottom: "1px solid",
        borderColor: "divider",
        bgcolor: chosen ? "roles.card" : "background.default",
        borderLeft: "3px solid",
        borderLeftColor: chosen ? "text.primary" : "transparent",
      }}
      onContextMenu={(e) => {
        e.preventDefault();
        setMenu({ x: e.clientX, y: e.clientY });
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", height: 34, pr: 1 }}>
        <PlainButton
          aria-expanded={chosen}
          onClick={() => set({ step: chosen ? null : lookRow(look.id), layer: null })}
          sx={{
            display: "flex",
            alignItems: "center",
            gap: 1,
            flex: 1,
            minWidth: 0,
            height: "100%",
            pl: "41px",
            cursor: "pointer",
            opacity: look.on === false ? 0.45 : 1,
          }}
        >
          <Typography variant="body2" noWrap component="span" sx={{ flex: 1, fontSize: 13.5 }}>
            <b>{title}</b> {lowerFirst(words.sentence)}
          </Typography>
          <Box
            sx={{
              width: 58,
              height: 10,
              borderRadius: 1,
              flex: "none",
              background: colours.length > 1 ? stripOf(colours) : oneOf(colours),
            }}
          />
        </PlainButton>
        <UseDot
          on={look.on !== false}
          label={`Use ${title.toLowerCase()}`}
          fixed={alone ? "A piece has a look always" : undefined}
          turn={(on) => change.store("on", on, "Use or not use look")}
        />
      </Box>
      {chosen && <IntoView />}
      {chosen && (
        <Box sx={{ pb: 1 }}>
          {(["what", "where", "when"] as const).map((side) => (
            <Side
              key={side}
              side={side}
              open={ribbon === side}
              summary={{ what: words.sentence, where, when: words.when }[side]}
              picture={
                side === "when" ? <Sparkline samples={words.lanes[0]?.samples} width={52} /> : null
              }
            >
              {body[side]}
            </Side>
          ))}
        </Box>
      )}
      <LookMenu at={menu} close={() => setMenu(null)} state={state} piece={piece} look={look} />
    </Box>
  );
}

function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}
