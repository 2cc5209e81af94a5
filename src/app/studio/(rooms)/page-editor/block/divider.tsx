"use client"

import type { SettingsOf } from "./settings"

export const Divider: SettingsOf<"divider"> = () => (
  <p className="text-[0.95rem]">A fine line across the page. There is nothing to set.</p>
)
