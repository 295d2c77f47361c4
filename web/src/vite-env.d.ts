/** The release this page was built for. */
declare const __RELEASE__: string;
