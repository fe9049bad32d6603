// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";

import { PartBoundary } from "../src/components/part-boundary";

function Broken(): never {
  throw new TypeError("Cannot read properties of undefined (reading 'share')");
}

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

describe("a part that cannot be drawn", () => {
  it("says so and leaves the others standing", () => {
    vi.spyOn(console, "error").mockImplementation(() => undefined);
    render(
      <>
        <PartBoundary>
          <Broken />
        </PartBoundary>
        <PartBoundary>
          <p>42 reps</p>
        </PartBoundary>
      </>,
    );
    expect(screen.getByRole("alert").textContent).toContain("could not be drawn");
    expect(screen.getByText("42 reps")).toBeTruthy();
  });
});
