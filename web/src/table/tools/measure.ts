import { useSketch } from "../sketch";
import type { TableTool } from "./bench";

/** The distance between two places, straight, across and up. */
export const measure: TableTool = {
  down: (_, { snapped }) =>
    useSketch.setState(({ nodes }) => {
      const [first] = nodes;
      return first ? { measured: [first.at, snapped.at], nodes: [] } : { nodes: [{ at: snapped.at, out: null }], measured: null };
    }),
  move: (_, { snapped }) => useSketch.setState({ at: snapped.at, label: snapped.label }),
  back: () => useSketch.setState({ nodes: [] }),
};
