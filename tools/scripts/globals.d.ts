// What the scripts of the pages find: our own name, and the libraries beside them.
declare const Alpine: any;
declare const Sortable: any;
declare const idb: { openDB(name: string, version: number, hooks?: object): Promise<any> };

interface Window {
  fotonomy: any;
}
declare let fotonomy: any;

// A page and its script are written together: what is looked up is what the template put there.
interface ParentNode {
  querySelector(selectors: string): any;
  querySelectorAll(selectors: string): NodeListOf<any>;
}
interface Element {
  closest(selectors: string): any;
}
interface Document {
  elementFromPoint(x: number, y: number): any;
  getElementById(id: string): any;
  readonly activeElement: any;
}
interface EventTarget {
  closest?(selectors: string): any;
}
