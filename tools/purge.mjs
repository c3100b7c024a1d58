// Leave in a stylesheet what the templates and scripts use: node purge.mjs FROM TO ROOT
import { writeFileSync } from "node:fs";
import { PurgeCSS } from "purgecss";

const [from, to, root] = process.argv.slice(2);
const [kept] = await new PurgeCSS().purge({
  content: [`${root}/fotonomy/**/*.html`, `${root}/fotonomy/web/static/web/*.js`],
  css: [from],
  variables: true,
  keyframes: true,
  fontFace: true,
});
// Pictures are as large as their own attributes say: the server works out what has room.
writeFileSync(to, kept.css.replaceAll(/img(,video)?\{height:auto;max-width:100%\}/g, ""));
