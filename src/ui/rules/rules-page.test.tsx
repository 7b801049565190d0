import { cleanup, render, screen, within } from "@testing-library/react";
import { userEvent } from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { makeRule, type Rules } from "@/core/rules/rule";
import type { RuleTrial } from "@/core/views/keeping-view";
import { FakeServer, refuses } from "../testing/fake-server";
import { RulesPage } from "./rules-page";

const RULES: Rules = {
  version: 1,
  rules: [makeRule("main", { approvals: { ...makeRule("main").approvals, count: 1 } }), makeRule("release/*")],
  groups: { crew: ["ada"] },
  tags: { create: "contributor", move: "keeper", delete: "keeper" },
  seconded: false,
};
const TRIAL: RuleTrial = {
  errors: [],
  notes: [],
  tried: [
    {
      ...{ number: 4, title: "A second berth", state: "open", target: "main", rule: "main", open: true },
      blocked: ["2 approvals are missing."],
      newly: ["2 approvals are missing."],
    },
  ],
};

/** An edition that asks for no approval, and waits. */
const waits = (mine: boolean) => ({
  ...{ version: 4, by: "Ada Quay", at: 0, note: "A quiet week", state: "waits" as const, second: null, mine },
  rules: {
    ...RULES,
    rules: [makeRule("main", { approvals: { ...makeRule("main").approvals, count: 0 } }), makeRule("release/*")],
  },
});

interface Shown {
  mayEdit?: boolean;
  version?: number;
  /** What becomes of what is saved. */
  answers?: "agreed" | "waits";
  waiting?: ReturnType<typeof waits>;
}
function page({ mayEdit = true, version = 3, answers = "agreed", waiting }: Shown = {}) {
  const server = new FakeServer({
    "POST /api/repos/{repo}/rules/try": () => TRIAL,
    "PUT /api/repos/{repo}/rules": ({ body }) => {
      const { rules, note } = body as { rules: Rules; note: string };
      return { rules, note, by: "kit", version: version + 1, at: 0, notes: [], state: answers, second: null };
    },
    "POST /api/repos/{repo}/rules/history/{version}": ({ body }) => {
      const { agrees } = body as { agrees: boolean };
      return { ...waits(false), state: agrees ? "agreed" : "dropped", second: { by: "kit", at: 1 } };
    },
  });
  const kept = { at: 0, state: "agreed" as const, second: null, mine: false };
  const history = [
    ...(waiting ? [waiting] : []),
    { ...kept, version, by: "kit", note: "As it is", rules: RULES },
    { ...kept, version: 2, by: null, note: "", rules: { ...RULES, rules: [makeRule("trunk")] } },
  ];
  const view = render(
    <RulesPage {...{ repository: "quay", mayEdit, rules: RULES, version, people: ["ada", "ben"], history }} />,
  );
  return { server, user: userEvent.setup(), view };
}
const rule = (branches: string) => screen.getByRole("heading", { name: branches }).closest("li")!;
const saved = (server: FakeServer) => server.of("PUT /api/repos/{repo}/rules")[0].body as { rules: Rules };

describe("the rules of a repository", () => {
  it("are sentences to who may not change them", () => {
    page({ mayEdit: false });
    expect(within(rule("main")).getAllByRole("listitem")[0].textContent).toMatch(/approv/);
    expect(screen.queryByRole("button", { name: "change" })).toBeNull();
    expect(screen.queryByRole("button", { name: "go back to this one" })).toBeNull();
    expect(screen.queryByRole("button", { name: "Save" })).toBeNull();
  });

  it("are tried before they count, and saved with the edition that they were changed on", async () => {
    const { server, user } = page();
    expect(screen.queryByRole("button", { name: "Save" })).toBeNull();
    await user.click(within(rule("main")).getByRole("button", { name: "change" }));
    const [count] = within(rule("main")).getAllByLabelText("How many");
    await user.clear(count);
    await user.type(count, "2 of us");
    await user.click(within(rule("main")).getByLabelText("a work item is linked"));
    await user.click(screen.getByRole("button", { name: "Try them" }));
    await screen.findByText("○ newly held up");
    expect(server.of("PUT /api/repos/{repo}/rules")).toEqual([]);
    await user.type(screen.getByLabelText(/^What this is for/), "Two from now on");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await screen.findByText("Saved. It counts from now on.");
    expect(saved(server)).toMatchObject({ note: "Two from now on", version: 3 });
    expect(saved(server).rules.rules[0]).toMatchObject({ approvals: { count: 2 }, workItem: true });
    expect(saved(server).rules.rules[1]).toEqual(RULES.rules[1]);
    // What is saved is no draft any more, and the newest edition.
    expect(screen.queryByRole("button", { name: "Save" })).toBeNull();
    expect(screen.getByText("Edition 4")).toBeTruthy();
  });

  it("keep what was changed and not saved, say that somebody saved others meanwhile, and can be as before", async () => {
    const { user, view } = page();
    await user.click(within(rule("release/*")).getByRole("button", { name: "remove" }));
    view.unmount();
    page({ version: 4 });
    expect(screen.queryByRole("heading", { name: "release/*" })).toBeNull();
    expect(screen.getByRole("alert").textContent).toMatch(/on edition 3, and edition 4 counts now/);
    await user.click(screen.getByRole("button", { name: "undo all" }));
    expect(rule("release/*")).toBeTruthy();
    expect(screen.queryByRole("alert")).toBeNull();
  });

  it("stay as they were typed when the server says no", async () => {
    const { server, user } = page();
    server.now({ "PUT /api/repos/{repo}/rules": () => refuses("conflict", "Somebody has saved others.") });
    await user.click(screen.getByRole("button", { name: "Add a rule …" }));
    await user.type(screen.getByLabelText(/^A name, or a pattern/), "hotfix/*");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await screen.findByText("Somebody has saved others.");
    expect(rule("hotfix/*")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Save" })).toBeTruthy();
  });

  it("name stewards, groups, freezes and who moves tags", async () => {
    const { server, user } = page();
    await user.click(within(rule("main")).getByRole("button", { name: "change" }));
    await user.click(screen.getByRole("button", { name: "Add stewards …" }));
    await user.type(screen.getByLabelText("Paths"), "data/**");
    await user.type(screen.getByLabelText("Stewards"), "ada, @crew, zoe");
    expect(screen.getByText("zoe: not among those who may approve here")).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Add a freeze …" }));
    await user.type(screen.getByLabelText("Why"), "the fair");
    await user.selectOptions(screen.getByLabelText("are deleted by"), "nobody");
    await user.type(screen.getByLabelText("Name of a new group"), "@night{Enter}");
    const night = screen.getByLabelText("People of @night, parted by commas");
    await user.type(night, "ben, ada");
    await user.tab();
    await user.click(screen.getByRole("button", { name: "Save" }));
    await screen.findByText("Saved. It counts from now on.");
    const { rules } = saved(server);
    expect(rules.rules[0].stewards).toEqual([{ paths: "data/**", of: ["ada", "@crew", "zoe"], needed: 1 }]);
    expect(rules.rules[0].freezes).toMatchObject([{ why: "the fair" }]);
    const [{ from, until }] = rules.rules[0].freezes;
    expect(Date.parse(until) - Date.parse(from)).toBe(86_400_000);
    expect(rules.tags.delete).toBe("nobody");
    expect(rules.groups).toEqual({ crew: ["ada"], night: ["ben", "ada"] });
  });

  it("come out of a file, tried at once and not saved; what is none is said", async () => {
    const { server, user } = page();
    const file = (text: string) => new File([text], "rules.json", { type: "application/json" });
    await user.upload(screen.getByLabelText("Import"), file("{"));
    await screen.findByText("rules.json is not JSON: nothing was taken from it.");
    const given = { ...RULES, rules: [makeRule("trunk")] };
    await user.upload(screen.getByLabelText("Import"), file(JSON.stringify(given)));
    await screen.findByText(/^These are the rules of rules.json/);
    expect(server.of("POST /api/repos/{repo}/rules/try")[0].body).toEqual({ rules: given });
    expect(rule("trunk")).toBeTruthy();
    expect(server.of("PUT /api/repos/{repo}/rules")).toEqual([]);
  });

  it("go back to an earlier edition, as a change to be saved", async () => {
    const { server, user } = page();
    await user.click(screen.getByText("Edition 2"));
    await user.click(screen.getByRole("button", { name: "go back to this one" }));
    expect(rule("trunk")).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Save" }));
    await vi.waitFor(() => expect(saved(server).rules.rules).toEqual([makeRule("trunk")]));
  });

  it("take two keepers where they say so: what is saved waits, and what counts stays", async () => {
    const { server, user } = page({ answers: "waits" });
    await user.click(screen.getByRole("checkbox", { name: /takes two keepers/ }));
    await user.click(screen.getByRole("button", { name: "Save" }));
    expect(saved(server).rules.seconded).toBe(true);
    expect((await screen.findByRole("status")).textContent).toMatch(/It counts when a second keeper has agreed/);
    const panel = screen.getByRole("region", { name: "Waits for a second keeper" });
    expect(panel.textContent).toMatch(/Saved by you.*Another keeper finds it on their desk/s);
    expect(within(panel).queryByRole("button", { name: /Agree/ })).toBeNull();
    expect(screen.getByRole("checkbox", { name: /takes two keepers/ })).toHaveProperty("checked", false);
  });

  it("that wait say what they change, and count when another keeper agrees", async () => {
    const { server, user } = page({ waiting: waits(false) });
    const panel = screen.getByRole("region", { name: "Waits for a second keeper" });
    expect(panel.textContent).toMatch(/Ada Quay.*A quiet week/s);
    const lines = within(within(panel).getAllByRole("list")[1]).getAllByRole("listitem");
    expect(lines.map(({ textContent }) => textContent)).toEqual([
      "−no longer: 1 approval.",
      "−no longer: New work outdates approvals; a rebase alone does not.",
      "+new: No approval is asked for.",
    ]);
    expect(rule("main").textContent).toContain("1 approval.");
    await user.click(within(panel).getByRole("button", { name: "Try it" }));
    await within(panel).findByText("○ newly held up");
    expect((server.of("POST /api/repos/{repo}/rules/try")[0].body as { rules: Rules }).rules.rules).toHaveLength(2);
    await user.click(within(panel).getByRole("button", { name: /Agree/ }));
    await screen.findByText("Agreed. Edition 4 counts from now on.");
    expect(server.of("POST /api/repos/{repo}/rules/history/{version}")[0].body).toEqual({ agrees: true });
    expect(document.activeElement?.textContent).toBe("Agreed. Edition 4 counts from now on.");
    await user.type(screen.getByPlaceholderText("name of a new group"), "pilots");
    await user.click(screen.getByRole("checkbox", { name: /takes two keepers/ }));
    expect(screen.getByRole("checkbox", { name: /takes two keepers/ })).toBe(document.activeElement);
    expect(rule("main").textContent).toContain("No approval is asked for.");
    expect(screen.queryByRole("region", { name: "Waits for a second keeper" })).toBeNull();
  });

  it("that wait are dropped by any keeper, and read by the others", async () => {
    page({ waiting: waits(false), mayEdit: false });
    expect(screen.queryByRole("button", { name: "Drop it" })).toBeNull();
    cleanup();
    const { user } = page({ waiting: waits(true) });
    await user.click(screen.getByRole("button", { name: "Drop it" }));
    await screen.findByText(/Dropped\. Edition 4 stays in the history/);
    expect(screen.getByText(/never counted: dropped by you/)).toBeTruthy();
    expect(rule("main").textContent).toContain("1 approval.");
  });
});
