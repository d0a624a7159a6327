/** Marks styles that scripts make as the server's page allows them; see the content security policy in src/server/http/guard.ts. */
export const styleNonce: string | undefined = document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')?.content;
