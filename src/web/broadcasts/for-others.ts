/** What other areas may use of this one; the rest of it is its own (lint). */
export { Editor } from './words/Editor';
export { Links } from './words/Links';
export { useEditorKnows } from './words/editor-knows';
