// Copies what the pages need at run time out of node_modules, with licences.
import { copyFileSync, mkdirSync, writeFileSync } from "node:fs";

const to = "src/pathway/web/static";
const modules = "node_modules";
const fonts = [
  ["@fontsource-variable/instrument-sans", "instrument-sans", ["instrument-sans-latin-wght-normal", "instrument-sans-latin-ext-wght-normal"]],
  ["@fontsource-variable/literata", "literata", ["literata-latin-wght-normal", "literata-latin-ext-wght-normal", "literata-latin-wght-italic"]],
];
mkdirSync(`${to}/vendor`, { recursive: true });
mkdirSync(`${to}/fonts`, { recursive: true });
for (const [pack, name, files] of fonts) {
  for (const file of files) copyFileSync(`${modules}/${pack}/files/${file}.woff2`, `${to}/fonts/${file}.woff2`);
  copyFileSync(`${modules}/${pack}/LICENSE`, `${to}/fonts/LICENSE-${name}.txt`);
}
copyFileSync(`${modules}/htmx.org/dist/htmx.min.js`, `${to}/vendor/htmx.min.js`);
copyFileSync(`${modules}/htmx.org/LICENSE`, `${to}/vendor/LICENSE-htmx.txt`);
copyFileSync(`${modules}/@alpinejs/csp/dist/cdn.min.js`, `${to}/vendor/alpine-csp.min.js`);
const mit = `Permission is hereby granted, free of charge, to any person obtaining a copy of this software and associated
documentation files (the "Software"), to deal in the Software without restriction, including without limitation the
rights to use, copy, modify, merge, publish, distribute, sublicense, and/or sell copies of the Software, and to permit
persons to whom the Software is furnished to do so, subject to the following conditions:

The above copyright notice and this permission notice shall be included in all copies or substantial portions of the
Software.

THE SOFTWARE IS PROVIDED "AS IS", WITHOUT WARRANTY OF ANY KIND, EXPRESS OR IMPLIED, INCLUDING BUT NOT LIMITED TO THE
WARRANTIES OF MERCHANTABILITY, FITNESS FOR A PARTICULAR PURPOSE AND NONINFRINGEMENT. IN NO EVENT SHALL THE AUTHORS OR
COPYRIGHT HOLDERS BE LIABLE FOR ANY CLAIM, DAMAGES OR OTHER LIABILITY, WHETHER IN AN ACTION OF CONTRACT, TORT OR
OTHERWISE, ARISING FROM, OUT OF OR IN CONNECTION WITH THE SOFTWARE OR THE USE OR OTHER DEALINGS IN THE SOFTWARE.
`;
writeFileSync(
  `${to}/vendor/LICENSE-alpine.txt`,
  `alpine-csp.min.js\nMIT License\nCopyright © Caleb Porzio and contributors\nContains @vue/reactivity, MIT License, Copyright © Yuxi (Evan) You\n\n${mit}`,
);
