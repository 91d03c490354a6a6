using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>An event as read.</summary>
/// <param name="Raw">The line as written; valid until the next event is taken.</param>
internal readonly record struct ReadEvent(JournalEvent Event, int Line, ReadOnlyMemory<byte> Raw);

/// <summary>Reads journal.jsonl. Blocks of lines are parsed side by side and taken in the order of the file, so the answer never depends on it.</summary>
internal static class JournalFile
{
    private sealed record ParsedBlock(LineBlock Block, List<ReadEvent> Events, Findings Findings);

    public static void Read(string file, Stream stream, Vocabulary words, Findings findings, Action<ReadEvent> take)
    {
        var ahead = new Queue<Task<ParsedBlock>>();
        using var blocks = LineBlocks.Of(file, stream, findings).GetEnumerator();
        var more = blocks.MoveNext();
        while ((more || ahead.Count > 0) && !findings.IsFull)
        {
            if (more && ahead.Count <= Environment.ProcessorCount)
            {
                var next = blocks.Current;
                more = blocks.MoveNext();
                // A short file is one block, and not worth another thread.
                ahead.Enqueue(more || ahead.Count > 0 ? Task.Run(() => Parse(file, next, words)) : Task.FromResult(Parse(file, next, words)));
                continue;
            }

            var parsed = ahead.Dequeue().GetAwaiter().GetResult();
            using var block = parsed.Block;
            findings.AddAll(parsed.Findings);
            foreach (var e in parsed.Events)
            {
                take(e);
            }
        }

        Task.WaitAll(ahead);
    }

    private static ParsedBlock Parse(string file, LineBlock block, Vocabulary words)
    {
        var parsed = new ParsedBlock(block, [], new());
        var (text, place) = (new JsonText(), new JsonPlace(file, parsed.Findings));
        var reader = new EventReader(place, words);
        foreach (var (line, bytes) in block.Lines())
        {
            if (JsonFile.TryParse(bytes, line, text, place) && reader.Read(text.Root) is { } e)
            {
                parsed.Events.Add(new(e, line, bytes));
            }

            if (parsed.Findings.IsFull)
            {
                break;
            }
        }

        return parsed;
    }
}
