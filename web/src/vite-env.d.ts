/// <reference types="vite-plugin-pwa/client" />

/** Changes with the shape of the API. */
declare const __API_SHAPE__: string
