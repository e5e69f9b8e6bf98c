// What the page's scripts find around them.

declare const Alpine: any;

// Which element is found by a selector is for the template to keep.
interface ParentNode {
  querySelector(selectors: string): any;
  querySelectorAll(selectors: string): NodeListOf<any>;
}

interface EventTarget {
  closest(selectors: string): any;
}

interface Element {
  readonly dataset: DOMStringMap;
  readonly offsetParent: Element | null;
  focus(options?: FocusOptions): void;
  blur(): void;
}

interface Document {
  getElementById(id: string): any;
}

interface EventMap {
  [name: string]: any;
}
