export { arranged, CONTENTS_AS_PAGES, type ContentsPage, type ContentsTrouble, contentsTroubles, type Listed } from "./contents.ts";
