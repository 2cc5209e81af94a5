"use client"

import { SaysFile } from "./says-file"
import type { SettingsOf } from "./settings"

export const Download: SettingsOf<"download"> = ({ block, files, onFile, onChange }) => (
  <SaysFile block={block} files={files} onFile={onFile} onChange={onChange} hint="Empty: the name of the file." />
)
