import { configure } from "@testing-library/dom";

// What is waited for comes later on a busy machine; what does not come at all is still told.
configure({ asyncUtilTimeout: 10_000 });

// The client of the interface takes fetch and Request when it is loaded, before a test can say what is answered; and
// without a page's address a path alone is no address of a request.
const Plain = globalThis.Request;
globalThis.Request = class extends Plain {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === "string" ? new URL(input, "http://keep.example") : input, init);
  }
};
export const answer = { fetch: globalThis.fetch };
globalThis.fetch = (input, init) => answer.fetch(input instanceof Request ? input : new Request(input as string, init));

// jsdom has no dialogs of its own; tests without a page have none at all.
if (typeof HTMLDialogElement !== "undefined") {
  HTMLDialogElement.prototype.showModal = function () {
    this.open = true;
  };
  HTMLDialogElement.prototype.close = function () {
    this.open = false;
    this.dispatchEvent(new Event("close"));
  };
}

// Nor can its files be read as text.
if (typeof File !== "undefined" && typeof FileReader !== "undefined")
  File.prototype.text ??= function () {
    return new Promise((done) => {
      const reader = new FileReader();
      reader.onload = () => done(reader.result as string);
      reader.readAsText(this);
    });
  };

// Lists that scroll ask the window to; it has nothing to scroll.
if (typeof window !== "undefined") window.scrollTo = () => {};

// Interface components escape what they look for; jsdom has no CSS.
globalThis.CSS ??= { escape: (text: string) => text.replace(/[^\w-]/g, (c) => `\\${c}`) } as typeof CSS;

// Nor anything that can be scrolled to, or watched for its size.
if (typeof Element !== "undefined") Element.prototype.scrollIntoView ??= () => {};
globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};
