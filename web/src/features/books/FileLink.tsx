/** Words that let a person choose a table from their machine. */
export function FileLink({ words, onChoose }: { words: string; onChoose: (file: File) => void }) {
  return (
    <label className="cursor-pointer font-semibold text-wine focus-within:outline-2">
      {words}
      <input
        type="file"
        accept=".csv,.txt,.tsv,.xlsx,text/csv"
        className="sr-only"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onChoose(file);
          event.target.value = "";
        }}
      />
    </label>
  );
}
