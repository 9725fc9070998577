/** A path with its escapes decoded, part by part, so that a slash within one stays apart from those between them. Undefined where an escape says nothing (RFC 3986, 2.1). */
export function decodedPath(path: string): string | undefined {
  try {
    return path.split('/').map(decodeURIComponent).join('/');
  } catch {
    return undefined;
  }
}
