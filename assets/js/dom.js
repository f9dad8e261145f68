// What every module uses of the page.

// $ finds the first element of a selector.
export const $ = (selector, root = document) => root.querySelector(selector);

// all calls a function with every element of a selector.
export const all = (selector, f, root = document) => root.querySelectorAll(selector).forEach(f);

// color is the value of one of the sheet's colors.
export const color = (name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
