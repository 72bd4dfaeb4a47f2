import { describe, expect, it } from "vitest";
import { inWindow, largestCells, matrixCells, matrixLayout, roomBesidePanel, sheetLayout } from "./layout";

describe("largestCells", () => {
  it("wraps six wide pictures into two rows", () => {
    const fit = largestCells(6, { width: 1000, height: 600 }, 1.5, 8, 20, 1000);
    expect(fit.columns).toBe(3);
    expect(fit.width).toBe(328);
  });
  it("never exceeds the room", () => {
    for (let count = 1; count < 40; count++) {
      const room = { width: 900, height: 500 };
      const fit = largestCells(count, room, 0.7, 8, 20, 2000);
      const rows = Math.ceil(count / fit.columns);
      expect(fit.columns * fit.width + (fit.columns - 1) * 8).toBeLessThanOrEqual(room.width);
      expect(rows * (fit.height + 20) + (rows - 1) * 8).toBeLessThanOrEqual(room.height + rows);
    }
  });
  it("does not enlarge", () => {
    expect(largestCells(1, { width: 2000, height: 2000 }, 1, 8, 20, 512).width).toBe(512);
  });
  it("survives no room", () => {
    expect(largestCells(4, { width: 0, height: 0 }, 1, 8, 20, 512).width).toBe(1);
  });
});

describe("matrixCells", () => {
  it("keeps cells large enough to judge, and scrolls instead", () => {
    expect(matrixCells(20, 20, { width: 800, height: 600 }, 1, 8, { least: 96, largest: 512 }).width).toBe(96);
  });
});

describe("matrixLayout", () => {
  const m = { gap: 4, bar: 20, side: 84, least: 96, largest: 512 };
  it("puts the source above when there is height to spare", () => {
    const found = matrixLayout(5, 2, { width: 1000, height: 620 }, 1.5, m);
    expect(found.source).toBe("above");
    expect(found.cell.width).toBeGreaterThan(160);
    expect(found.sourceWidth).toBeGreaterThanOrEqual(found.cell.width);
    expect(2 * (found.cell.height + 4 + 20) + found.sourceWidth / 1.5 + 40).toBeLessThanOrEqual(622);
  });
  it("puts it beside when height is short, and gives it the width that is left", () => {
    const found = matrixLayout(3, 5, { width: 1000, height: 560 }, 1, m);
    expect(found.source).toBe("left");
    expect(found.sourceWidth).toBeGreaterThan(2 * found.cell.width);
    expect(found.sourceWidth + 3 * (found.cell.width + 4)).toBeLessThanOrEqual(1000);
  });
});

describe("sheetLayout", () => {
  const m = { gap: 8, bar: 22, side: 84, least: 72, largest: 512 };
  const room = { width: 780, height: 420 };
  it("lets the source flow with a run that fits, and pins it once cells are enlarged", () => {
    const fits = sheetLayout("run", { cells: 5, rows: 1, columns: 5 }, room, 1.5, null, m);
    expect(fits.source).toBe("flow");
    expect(fits.rows * fits.columns).toBeGreaterThanOrEqual(6);
    const large = sheetLayout("run", { cells: 5, rows: 1, columns: 5 }, room, 1.5, 400, m);
    expect(large.source).toBe("left");
    expect(large.sourceWidth).toBeLessThanOrEqual(0.34 * room.width);
    expect(large.columns * large.step.x).toBeLessThanOrEqual(room.width - large.sourceWidth);
  });
  it("keeps four hundred cells large enough to see, and scrolls", () => {
    const found = sheetLayout("matrix", { cells: 400, rows: 20, columns: 20 }, room, 1.5, null, m);
    expect(found.cell.width).toBe(72);
    expect(found.step.y * found.rows).toBeGreaterThan(room.height);
    expect(found.side).toBe(84);
  });
  it("labels a few rows over them and many beside", () => {
    const few = sheetLayout("matrix", { cells: 15, rows: 3, columns: 5 }, room, 1.5, null, m);
    expect([few.side, few.over]).toEqual([0, 22]);
    expect(few.step.y).toBe(few.cell.height + 8 + 22);
    expect(sheetLayout("matrix", { cells: 70, rows: 14, columns: 5 }, room, 1.5, null, m).over).toBe(0);
  });
  it("leaves room for a panel where that costs the pictures little, and not where it costs much", () => {
    const run = { cells: 5, rows: 1, columns: 5 };
    const tall = { width: 1000, height: 420 };
    expect(roomBesidePanel("run", run, tall, 1.5, 240, m)).toEqual(tall);
    expect(roomBesidePanel("run", run, { width: 1270, height: 420 }, 1.5, 240, m).width).toBe(1030);
    const many = { cells: 400, rows: 20, columns: 20 };
    expect(roomBesidePanel("matrix", many, tall, 1.5, 240, m)).toEqual(tall);
    expect(sheetLayout("matrix", many, tall, 1.5, null, m).sourceWidth).toBe(200);
    expect(roomBesidePanel("run", { cells: 1, rows: 1, columns: 1 }, tall, 1.5, 240, m)).toEqual(tall);
  });
  it("knows what lies in a window", () => {
    expect(inWindow(0, 400, 100, 20)).toEqual([0, 5]);
    expect(inWindow(450, 400, 100, 20)).toEqual([3, 10]);
    expect(inWindow(5000, 400, 100, 20)).toEqual([20, 20]);
  });
});
