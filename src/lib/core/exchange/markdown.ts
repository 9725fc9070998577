import MarkdownIt from 'markdown-it';

/**
 * CommonMark with tables and strikethrough (GitHub Flavored Markdown 0.29, 4.10 and 6.5) and addresses as links. Markup stands in it as it
 * is: whoever keeps what comes out reduces it to what may be kept.
 */
const parser = new MarkdownIt({ html: true, linkify: true });
// Only what begins with a scheme: “huts.example” is a name in a text as well.
parser.linkify.set({ fuzzyLink: false, fuzzyEmail: false, fuzzyIP: false });
parser.renderer.rules.hardbreak = () => '<br />';

/** Line ends between blocks, which the renderer sets for whoever reads the source, and which would be text of the value. */
const BETWEEN_BLOCKS =
  /(<\/?(?:p|h[1-6]|ul|ol|li|blockquote|hr|table|thead|tbody|tr|t[hd])\b[^<>]*>)\n(?=<|$)|\n(?=<(?:p|h[1-6]|ul|ol|blockquote|pre|hr|table)\b)/g;

/** Markdown as an HTML fragment, its line ends as the editor of rich text has them. Its cost grows as the text does. */
export function markdownToHtml(text: string): string {
  return parser
    .render(text)
    .split(/(<pre>[\s\S]*?<\/pre>)/)
    .map((piece, i) =>
      i % 2 ? piece : piece.replace(BETWEEN_BLOCKS, (_, tag: string | undefined) => tag ?? '').replace(/^\n/, ''),
    )
    .join('');
}
