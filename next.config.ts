import type { NextConfig } from "next"

const config: NextConfig = {
  distDir: process.env.HERON_DIST ?? ".next",
  poweredByHeader: false,
  compress: true,
  // heron test checks the types, once.
  typescript: { ignoreBuildErrors: true },
  devIndicators: false,
  serverExternalPackages: [
    "@node-rs/argon2",
    "mysql2",
    "nodemailer",
    "smtp-server",
    "mailparser",
    "sanitize-html",
    "pino",
    "piscina",
    "sharp",
  ],
  experimental: { serverActions: { bodySizeLimit: "2mb" } },
}

export default config
