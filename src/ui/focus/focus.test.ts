import { afterEach, describe, expect, it, vi } from "vitest";
import { atEnd } from "./at-end";
import { ctrlEnter } from "./ctrl-enter";
import { HOLD_EARLY_KEY, pressEarlyKey } from "./early-key";
import { keepFocus } from "./keep-focus";

let end = () => {};
afterEach(() => {
  end();
  end = () => {};
  document.body.innerHTML = "";
});
const page = (html: string) => {
  document.body.innerHTML = html;
};
const $ = <E extends HTMLElement = HTMLElement>(selector: string) => document.querySelector<E>(selector)!;
const settled = () => new Promise((resolve) => setTimeout(resolve, 60));
const focused = () => document.activeElement?.id ?? "";
const begin = () => {
  end = keepFocus(() => $("#reading"));
};

describe("the focus", () => {
  it("goes to the end of what stands in a field that opens", () => {
    page("<textarea id=a>Half a sentence</textarea><select id=b><option>1</select><input id=c type=number value=7>");
    const field = $<HTMLTextAreaElement>("#a");
    atEnd(field);
    expect([focused(), field.selectionStart, field.selectionEnd]).toEqual(["a", 15, 15]);
    atEnd($<HTMLSelectElement>("#b"));
    expect(focused()).toBe("b");
    atEnd($<HTMLInputElement>("#c"));
    expect(focused()).toBe("c");
    atEnd(null);
  });

  it("goes on to what came in place of what went away, or to its neighbour", async () => {
    page("<section><button id=a></button><button id=b></button><button id=c></button></section>");
    begin();
    $("#b").focus();
    $("#b").outerHTML = "<textarea id=new></textarea>";
    await settled();
    expect(focused()).toBe("new");
    $("#new").remove();
    await settled();
    expect(focused()).toBe("c");
    $("#c").remove();
    await settled();
    expect(focused()).toBe("a");
  });

  it("stays in the card or the sheet that it was in, and comes to what is read when that goes, too", async () => {
    page("<main><div id=reading tabindex=0></div></main><article id=card tabindex=-1><button id=a></button></article>");
    begin();
    $("#a").focus();
    $("#a").remove();
    await settled();
    expect(focused()).toBe("card");
    $("#card").remove();
    await settled();
    expect(focused()).toBe("reading");
  });

  it("comes back to a button that was busy", async () => {
    page("<div role=dialog id=sheet tabindex=-1><button id=send></button><button id=other></button></div>");
    begin();
    const send = $<HTMLButtonElement>("#send");
    send.focus();
    send.disabled = true;
    send.blur();
    await settled();
    expect(focused()).toBe("sheet");
    send.disabled = false;
    await settled();
    expect(focused()).toBe("send");
  });

  /** A button that is busy, the focus of which was handed to the field beside it. */
  const busy = async () => {
    page("<section><input id=note><button id=try></button></section>");
    begin();
    const tries = $<HTMLButtonElement>("#try");
    tries.focus();
    tries.disabled = true;
    tries.blur();
    await settled();
    expect(focused()).toBe("note");
    return tries;
  };

  it.each([
    ["types", () => new KeyboardEvent("keydown", { key: "R", bubbles: true })],
    ["clicks", () => new Event("pointerdown", { bubbles: true })],
  ])("stays with who %s where it was handed to meanwhile", async (_, act) => {
    const tries = await busy();
    $("#note").dispatchEvent(act());
    tries.disabled = false;
    await settled();
    expect(focused()).toBe("note");
  });

  it("is back before anything else can be done", async () => {
    const tries = await busy();
    tries.disabled = false;
    await Promise.resolve();
    expect(focused()).toBe("try");
  });

  it("is left nowhere where somebody left it, also when what had it goes later", async () => {
    page("<section><button id=a></button><button id=b></button></section>");
    begin();
    $("#a").focus();
    $("#a").blur();
    await settled();
    document.body.append(document.createElement("p"));
    await settled();
    expect(focused()).toBe("");
    $("#a").remove();
    await settled();
    expect(focused()).toBe("");
  });

  it("is left nowhere by who leaves a field at the moment in which something else on the page has changed", async () => {
    page("<section><input id=a><select id=b></select></section>");
    begin();
    $("#a").focus();
    await settled();
    // Both are due at the same time, as where the page was busy: the field is left first.
    setTimeout(() => $("#a").blur(), 20);
    document.body.append(document.createElement("p"));
    await settled();
    expect(focused()).toBe("");
  });

  it("is not taken from where somebody went meanwhile", async () => {
    page("<section><button id=a></button><button id=b></button></section><button id=elsewhere></button>");
    begin();
    $("#a").focus();
    $("#elsewhere").focus();
    $("#a").remove();
    await settled();
    expect(focused()).toBe("elsewhere");
  });
});

describe("Ctrl Enter", () => {
  const press = (on: HTMLElement, more: KeyboardEventInit = { ctrlKey: true }) =>
    on.dispatchEvent(new KeyboardEvent("keydown", { key: "Enter", bubbles: true, cancelable: true, ...more }));
  const heard = (selector: string) => {
    const click = vi.fn((event: Event) => event.preventDefault());
    $(selector).addEventListener("click", click);
    return click;
  };

  it("does the one thing of the innermost form, card or sheet", () => {
    page(`<div role=dialog><article><form><textarea id=in></textarea><button id=keep type=submit></button></form>
      <input id=card><button id=done data-deed></button></article><input id=sheet>
      <ul><li data-deeds><input id=part></li></ul><button id=send data-deed></button></div><input id=outside>`);
    end = ctrlEnter();
    const [keep, done, send] = [heard("#keep"), heard("#done"), heard("#send")];
    const counts = () => [keep, done, send].map(({ mock }) => mock.calls.length);
    press($("#in"));
    expect(counts()).toEqual([1, 0, 0]);
    press($("#card"), { metaKey: true });
    expect(counts()).toEqual([1, 1, 0]);
    // In a part that is kept as it is written there is nothing to do: it does not send the whole.
    press($("#part"));
    press($("#outside"));
    press($("#sheet"), {});
    expect(counts()).toEqual([1, 1, 0]);
  });

  it("does not press what cannot be pressed", () => {
    page("<form><input id=in><button id=keep type=submit disabled></button></form>");
    end = ctrlEnter();
    const keep = heard("#keep");
    press($("#in"));
    expect(keep).not.toHaveBeenCalled();
  });
});

describe("a key that is pressed before the page listens", () => {
  const pressed = (...events: [target: string, init: KeyboardEventInit, age?: number][]) => {
    page("<p id=text>Read</p><input id=field>");
    new Function(HOLD_EARLY_KEY)();
    for (const [target, init, age = 0] of events) {
      const event = new KeyboardEvent("keydown", { bubbles: true, ...init });
      Object.defineProperty(event, "timeStamp", { value: performance.now() - age });
      $(target).dispatchEvent(event);
    }
    const heard: string[] = [];
    const listen = ({ key, shiftKey }: KeyboardEvent) => heard.push(shiftKey ? `shift ${key}` : key);
    window.addEventListener("keydown", listen);
    pressEarlyKey();
    // What is pressed from now on is heard by who listens alone.
    $("#text").dispatchEvent(new KeyboardEvent("keydown", { bubbles: true, key: "x" }));
    pressEarlyKey();
    window.removeEventListener("keydown", listen);
    return heard;
  };

  it("is pressed again once it does, the last one alone", () => {
    expect(pressed(["#text", { key: "n" }], ["#text", { key: "f" }])).toEqual(["f", "x"]);
    expect(pressed(["#text", { key: "F", shiftKey: true }])).toEqual(["shift F", "x"]);
    expect(pressed()).toEqual(["x"]);
  });

  it("is let be where the browser did something with it, where it was held or typed, and when it is long ago", () => {
    expect(pressed(["#text", { key: "k", ctrlKey: true }])).toEqual(["x"]);
    expect(pressed(["#text", { key: "k", metaKey: true }])).toEqual(["x"]);
    expect(pressed(["#text", { key: "Enter" }], ["#text", { key: " " }])).toEqual(["x"]);
    for (const key of ["/", "'"]) expect(pressed(["#text", { key }])).toEqual(["x"]);
    expect(pressed(["#text", { key: "f", repeat: true }])).toEqual(["x"]);
    expect(pressed(["#field", { key: "f" }])).toEqual(["x"]);
    expect(pressed(["#text", { key: "f" }, 60_000])).toEqual(["x"]);
  });
});
