"use client"

import { SaysFile } from "./says-file"
import type { SettingsOf } from "./settings"

export const Audio: SettingsOf<"audio"> = ({ block, files, onFile, onChange }) => (
  <SaysFile block={block} files={files} onFile={onFile} onChange={onChange} hint="Stands above it." />
)
