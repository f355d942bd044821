/** The header by which a request shows that it comes from the application's own page: no form or link can send it. */

export const ownPageHeader = 'enkrasis-page'
