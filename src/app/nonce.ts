/** The server gives a new nonce with every page: styles that are written at run time carry it. */
export const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce ?? '';
