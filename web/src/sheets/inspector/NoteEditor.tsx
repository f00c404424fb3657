import { Button, Group } from '@mantine/core';
import { RichTextEditor } from '@mantine/tiptap';
import '@mantine/tiptap/styles.css';
import { useEditor, type JSONContent } from '@tiptap/react';
import { useEffect } from 'react';
import StarterKit from '@tiptap/starter-kit';
import { noteWords } from '../../../../core/src/sheets/index.ts';
import { fromDoc, toDoc } from './noteDoc.ts';

const SIGNS = ['Ø', '°', '±', '×'] as const;
/** Characters of a note, as the door takes them. */
const MOST = 4000;

/** The words of a note: bold, larger lines, lists, and words that stay true. */
export default function NoteEditor({
  text,
  onKeep,
  counted = [],
}: {
  text: string;
  onKeep: (text: string) => void;
  /** Words that count something of this machine. */
  counted?: readonly string[];
}) {
  const editor = useEditor({
    extensions: [
      StarterKit.configure({
        blockquote: false,
        code: false,
        codeBlock: false,
        horizontalRule: false,
        italic: false,
        link: false,
        strike: false,
        underline: false,
        heading: { levels: [2] },
      }),
    ],
    content: toDoc(text) as JSONContent,
    immediatelyRender: true,
    editorProps: { attributes: { 'aria-label': 'Text of the note', role: 'textbox', 'aria-multiline': 'true' } },
    onBlur: ({ editor: { state } }) => {
      const words = fromDoc(state.doc.toJSON() as Parameters<typeof fromDoc>[0]).slice(0, MOST);
      if (words !== text) onKeep(words);
    },
  });
  // Undone, or changed elsewhere.
  useEffect(() => {
    const typed = fromDoc(editor.state.doc.toJSON() as Parameters<typeof fromDoc>[0]);
    if (typed !== text && !editor.isFocused) editor.commands.setContent(toDoc(text) as JSONContent);
  }, [editor, text]);
  const insert = (words: string) => editor.chain().focus().insertContent({ type: 'text', text: words }).run();
  return (
    <>
      <RichTextEditor editor={editor} className="noteeditor">
        <RichTextEditor.Toolbar>
          <RichTextEditor.ControlsGroup>
            <RichTextEditor.Bold />
            <RichTextEditor.H2 aria-label="Larger line" title="Larger line" />
            <RichTextEditor.BulletList />
            <RichTextEditor.OrderedList />
          </RichTextEditor.ControlsGroup>
          <RichTextEditor.ControlsGroup>
            {SIGNS.map((sign) => (
              <RichTextEditor.Control key={sign} aria-label={`Put in ${sign}`} onClick={() => insert(sign)}>
                {sign}
              </RichTextEditor.Control>
            ))}
          </RichTextEditor.ControlsGroup>
        </RichTextEditor.Toolbar>
        <RichTextEditor.Content />
      </RichTextEditor>
      <p className="quiet" style={{ marginTop: 8 }}>
        Words that are put in, and stay true:
      </p>
      <Group gap={4}>
        {[...noteWords, 'count 1', ...counted].map((word) => (
          <Button
            key={word}
            size="compact-xs"
            variant="default"
            // The text stays where the cursor is.
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => insert(`{${word}}`)}
          >
            {word}
          </Button>
        ))}
      </Group>
    </>
  );
}
