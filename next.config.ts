import type { NextConfig } from "next"

const config: NextConfig = {
  distDir: process.env.HERON_DIST ?? ".next",
  poweredByHeader: false,
  compress: true,
  // heron test checks the types, once.
  typescript: { ignoreBuildErrors: true },
  devIndicators: false,
  // Read from node_modules as they are: what isn't bundled for the server builds in two thirds of the time.
  serverExternalPackages: [
    "@node-rs/argon2",
    "@pdf-lib/fontkit",
    "bidi-js",
    "bowser",
    "dns2",
    "file-type",
    "html-to-text",
    "ibantools",
    "ical-generator",
    "ical.js",
    "juice",
    "mailparser",
    "mdast-util-from-markdown",
    "mdast-util-to-string",
    "music-metadata",
    "mysql2",
    "nodemailer",
    "papaparse",
    "pdf-lib",
    "pino",
    "piscina",
    "qrcode",
    "sanitize-html",
    "sharp",
    "smtp-server",
    "standardwebhooks",
    "temporal-polyfill",
    "timezones-ical-library",
    "valibot",
  ],
  experimental: {
    serverActions: { bodySizeLimit: "2mb" },
    serverMinification: false,
    serverSourceMaps: false,
    turbopackSourceMaps: false,
  },
}

export default config
