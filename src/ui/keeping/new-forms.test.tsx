import { render, screen } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { HooksPage } from "../hooks/hooks-page";
import { FakeServer, refuses } from "../testing/fake-server";
import { NewAccount } from "./new-account";
import { TakeIn } from "./take-in";

const about = (field: HTMLElement) =>
  document.getElementById(field.getAttribute("aria-describedby") ?? "")?.textContent;

describe("a new account", () => {
  async function form() {
    const server = new FakeServer({ "POST /api/keeping/people": () => [] });
    const onAdded = vi.fn();
    const ada = { name: "ada", fullName: "Ada Brandt", machine: false, disabledAt: null } as never;
    render(<NewAccount people={[ada]} onAdded={onAdded} />);
    const user = userEvent.setup();
    await user.click(screen.getByRole("button", { name: "Add an account …" }));
    return { server, user, onAdded };
  }

  it("says at each field what is wrong with it, asks nothing until all is right, and goes to the first wrong one", async () => {
    const { server, user, onAdded } = await form();
    const name = screen.getByLabelText(/^Name to sign in with/);
    const password = screen.getByLabelText("Password, to be changed by them");
    await user.type(name, "Ben Aalto");
    await user.type(screen.getByLabelText("Full name, as others see it"), "Ben\u202e Aalto");
    await user.type(screen.getByLabelText("Mail address"), "ben at x");
    await user.type(password, "short{Enter}");
    await vi.waitFor(() => expect(about(name)).toMatch(/^“Ben Aalto” cannot be a name to sign in with/));
    expect(about(screen.getByLabelText("Full name, as others see it"))).toMatch(/signs that cannot be seen/);
    expect(about(password)).toBe("A password has at least 8 characters.");
    expect(about(screen.getByLabelText("Mail address"))).toMatch(/^Give a mail address/);
    expect(document.activeElement).toBe(name);
    expect(server.asked).toEqual([]);
    await user.clear(screen.getByLabelText("Mail address"));
    await user.clear(name);
    await user.type(name, " ben ");
    await vi.waitFor(() => expect(name.getAttribute("aria-invalid")).toBe("false"));
    await user.clear(screen.getByLabelText("Full name, as others see it"));
    await user.type(screen.getByLabelText("Full name, as others see it"), "Ben Aalto");
    await user.type(password, "er{Enter}");
    expect(server.asked).toEqual([]);
    await user.type(password, "!{Enter}");
    await vi.waitFor(() => expect(onAdded).toHaveBeenCalledOnce());
    const person = { name: "ben", fullName: "Ben Aalto", email: "", machine: false, password: "shorter!" };
    expect(server.asked[0].body).toEqual(person);
  });

  it("of a machine has no password, and whom it belongs to only where somebody was named", async () => {
    const { server, user, onAdded } = await form();
    await user.type(screen.getByLabelText(/^Name to sign in with/), "gauge");
    await user.type(screen.getByLabelText("Full name, as others see it"), "Gauge");
    await user.type(screen.getByLabelText("Password, to be changed by them"), "typed before");
    await user.click(screen.getByRole("checkbox"));
    expect(screen.queryByLabelText("Password, to be changed by them")).toBeNull();
    await user.selectOptions(screen.getByLabelText(/^Whose it is/), "ada");
    await user.click(screen.getByRole("button", { name: "Add it" }));
    await vi.waitFor(() => expect(onAdded).toHaveBeenCalledOnce());
    expect(server.asked[0].body).toEqual({ name: "gauge", fullName: "Gauge", email: "", machine: true, owner: "ada" });
  });

  it("keeps what was typed when the server says no", async () => {
    const { server, user, onAdded } = await form();
    server.now({ "POST /api/keeping/people": () => refuses("conflict", "The name “ben” is taken.") });
    await user.type(screen.getByLabelText(/^Name to sign in with/), "ben");
    await user.type(screen.getByLabelText("Full name, as others see it"), "Ben Aalto");
    await user.type(screen.getByLabelText("Password, to be changed by them"), "long enough{Enter}");
    await screen.findByText("The name “ben” is taken.");
    expect((screen.getByLabelText("Full name, as others see it") as HTMLInputElement).value).toBe("Ben Aalto");
    expect(onAdded).not.toHaveBeenCalled();
  });
});

describe("taking a repository in", () => {
  it("asks for what its way needs, and no more", async () => {
    const taking = { id: "t", name: "quay", says: "", state: "taken" as const };
    const server = new FakeServer({
      "POST /api/keeping/takings": () => taking,
      "GET /api/keeping/takings": () => [taking],
    });
    const onTaken = vi.fn();
    const user = userEvent.setup();
    render(<TakeIn initial={[]} begin={true} onTaken={onTaken} />);
    await user.click(screen.getByRole("button", { name: "Take it in" }));
    await vi.waitFor(() => expect(about(screen.getByLabelText(/^Its name here/))).toBe("Give it a name."));
    expect(about(screen.getByLabelText("Address"))).toBe("Say where it is.");
    await user.type(screen.getByLabelText(/^Its name here/), "quay");
    await user.click(screen.getByLabelText("from a folder of the server"));
    expect(screen.queryByLabelText("Address")).toBeNull();
    await user.click(screen.getByRole("button", { name: "Take it in" }));
    await vi.waitFor(() => expect(about(screen.getByLabelText(/^The folder/))).toBe("Say where it is."));
    expect(server.of("POST /api/keeping/takings")).toEqual([]);
    await user.type(screen.getByLabelText(/^The folder/), "/srv/quay.git{Enter}");
    await vi.waitFor(() => expect(onTaken).toHaveBeenCalledOnce());
    const [{ body }] = server.of("POST /api/keeping/takings");
    expect(body).toEqual({ name: "quay", from: { kind: "folder", path: "/srv/quay.git" } });
  });
});

describe("another system", () => {
  it("is told by an address that is one, of what was ticked", async () => {
    const server = new FakeServer({ "POST /api/repos/{repo}/hooks": () => ({ secret: "whsec_x", hooks: [] }) });
    const user = userEvent.setup();
    render(<HooksPage repository="quay" initial={[]} within={false} />);
    const address = screen.getByLabelText("Address");
    await user.type(address, "builds.example{Enter}");
    await vi.waitFor(() => expect(about(address)).toMatch(/^Give an address/));
    expect(server.asked).toEqual([]);
    await user.clear(address);
    await user.type(address, " https://builds.example/lens ");
    await user.click(screen.getByLabelText("a change set merges"));
    await user.click(screen.getByLabelText("a review is sent"));
    await user.click(screen.getByRole("button", { name: "Add it" }));
    expect((await screen.findByTestId("secret")).textContent).toBe("whsec_x");
    const { kinds, url } = server.asked[0].body as { kinds: string[]; url: string };
    expect(url).toBe("https://builds.example/lens");
    expect(kinds.sort()).toEqual(["merged", "reviewed"]);
    expect((screen.getByLabelText("a change set merges") as HTMLInputElement).checked).toBe(false);
  });
});
