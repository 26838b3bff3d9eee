/** What styles carry that a script of the hub's page adds: the content security policy of the page takes no others. */
export const nonce = document.querySelector<HTMLMetaElement>('meta[name="amvek-styles"]')?.content ?? ''
