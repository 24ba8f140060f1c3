import { FIGURES } from "../common/theme";

/** Figures that stand over the stage, readable on whatever lies behind them. */
export const LEGEND = {
  color: "#ede7f5",
  fontFamily: FIGURES,
  fontSize: 11.5,
  bgcolor: "#1e1a29b3",
  borderRadius: 1.5,
  px: 1,
  py: 0.25,
};
