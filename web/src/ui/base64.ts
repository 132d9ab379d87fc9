/** The bytes of a file in base 64. */
export async function base64(file: Blob): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let packed = "";
  for (let i = 0; i < bytes.length; i += 0x8000) packed += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(packed);
}
