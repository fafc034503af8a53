// Html shows what the server rendered from a seller's Markdown and made safe.
export function Html({ html }: { html: string }) {
  return <div className="prose" dangerouslySetInnerHTML={{ __html: html }} />;
}
