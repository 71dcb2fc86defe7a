import { Textarea } from "@chakra-ui/react";

interface Props {
  fileLabel: string;
  textLabel: string;
  example: string;
  text: string;
  rows: number;
  onText: (text: string) => void;
  /** A file is another table: what was assigned for the one before it does not hold. */
  onFile: (text: string) => void;
}

/** A table as a file or as text that is pasted. */
export const TableText = ({ fileLabel, textLabel, example, text, rows, onText, onFile }: Props) => (
  <>
    <input
      type="file"
      accept=".csv,.txt,text/csv"
      aria-label={fileLabel}
      onChange={async (event) => {
        const given = await event.target.files?.[0]?.text();
        if (given !== undefined) onFile(given);
      }}
    />
    <Textarea
      aria-label={textLabel}
      className="figures"
      size="xs"
      rows={rows}
      mt={2}
      borderColor="border.emphasized"
      placeholder={example}
      value={text}
      onChange={(event) => onText(event.target.value)}
    />
  </>
);
