import type { From } from "@/core/mail/from"
import { TextField } from "@/ui/field"

/** Who it comes from and where answers go, where that isn't as the school says. */
export function FromFields({
  value,
  error,
  onChange,
}: {
  value: From
  error: (field: string) => string | undefined
  onChange: (value: From) => void
}) {
  return (
    <>
      <TextField
        label="From"
        value={value.name}
        maxLength={120}
        placeholder="the school’s sender"
        error={error("from.name")}
        onChange={(e) => onChange({ ...value, name: e.target.value })}
      />
      <TextField
        label="Replies go to"
        type="email"
        value={value.replyTo}
        maxLength={254}
        placeholder="the sender’s address"
        error={error("from.replyTo")}
        onChange={(e) => onChange({ ...value, replyTo: e.target.value })}
      />
    </>
  )
}
