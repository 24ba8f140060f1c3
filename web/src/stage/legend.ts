import { FIGURES } from "../theme/theme";

/** Figures that stand over the stage, readable on whatever lies behind them. */
export const LEGEND = {
  color: "#ede7f5",
  fontFamily: FIGURES,
  fontSize: 11.5,
  textShadow: "0 0 3px #000, 0 0 6px #000",
};
