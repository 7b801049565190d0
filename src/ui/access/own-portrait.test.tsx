import { render, screen } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { hueOf } from "@/core/house/labels/hues";
import { PersonMark } from "../parts/person-mark";
import { FakeServer, refuses } from "../testing/fake-server";
import { OwnPortrait } from "./own-portrait";

vi.mock("next/navigation", () => ({ useRouter: () => ({ refresh: vi.fn() }) }));

const picture = "/api/people/rosa/picture?at=1";

describe("how somebody is drawn", () => {
  it("is by their initials in a colour that is theirs, and the name is said once", () => {
    render(<PersonMark name="Rosa van der Vance" />);
    const mark = screen.getByRole("img", { name: "Rosa van der Vance" });
    expect(mark.getAttribute("data-initials")).toBe("RV");
    expect(mark.textContent).toBe("");
    expect([hueOf("rosa"), hueOf("rosa")]).toEqual([hueOf("rosa"), expect.any(Number)]);
  });

  it("is by a picture where there is one", () => {
    render(<PersonMark name="Rosa Vance" portrait={{ hue: 1, picture }} />);
    expect(screen.getByRole("img").style.backgroundImage).toContain(picture);
  });

  it("is chosen by oneself, and what is no picture is told so", async () => {
    const server = new FakeServer({
      "PUT /api/portrait": ({ body }) => ({ hue: (body as { hue: number }).hue, picture: null }),
      "POST /api/portrait/picture": ({ body }) =>
        (body as Blob).type === "image/png" ? { hue: 2, picture } : refuses("invalid", "That is not an image."),
      "DELETE /api/portrait/picture": () => ({ hue: 2, picture: null }),
    });
    const user = userEvent.setup({ applyAccept: false });
    render(<OwnPortrait name="Rosa Vance" initial={{ hue: 0, picture: null }} />);
    await user.click(screen.getByRole("button", { name: "Colour 3" }));
    expect((await screen.findByRole("button", { name: "Colour 3", pressed: true })).textContent).toBe("");
    expect(server.of("PUT /api/portrait")[0].body).toEqual({ hue: 2 });
    const field = screen.getByLabelText("Or a picture, up to 512 kB");
    await user.upload(field, new File(["x"], "a.txt", { type: "text/plain" }));
    await screen.findByText("That is not an image.");
    await user.upload(field, new File(["x"], "a.png", { type: "image/png" }));
    await user.click(await screen.findByRole("button", { name: "take the picture away" }));
    await vi.waitFor(() => expect(screen.queryByRole("button", { name: "take the picture away" })).toBeNull());
  });
});
