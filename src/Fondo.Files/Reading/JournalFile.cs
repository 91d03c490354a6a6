using Fondo.Files.Text;

namespace Fondo.Files.Reading;

/// <summary>An event as read.</summary>
/// <param name="Raw">The line as written; valid until the next event is taken.</param>
internal readonly record struct ReadEvent(JournalEvent Event, int Line, ArraySegment<byte> Raw);

/// <summary>Reads journal.jsonl. Blocks of lines are parsed side by side and taken in the order of the file, so the answer never depends on
/// it.</summary>
internal static class JournalFile
{
    public static void Read(string file, Stream stream, Vocabulary words, Findings findings, Action<ReadEvent> take)
    {
        var ahead = new Queue<(BlockReader Reader, Task Parsing)>();
        var idle = new Stack<BlockReader>();
        using var blocks = LineBlocks.Of(file, stream, findings).GetEnumerator();
        var more = blocks.MoveNext();
        while ((more || ahead.Count > 0) && !findings.IsFull)
        {
            if (more && ahead.Count <= Environment.ProcessorCount)
            {
                var (block, reader) = (blocks.Current, idle.TryPop(out var rested) ? rested : new BlockReader(file, words));
                more = blocks.MoveNext();
                // A short file is one block, and not worth another thread.
                ahead.Enqueue((reader, more || ahead.Count > 0 ? Task.Run(() => reader.Parse(block)) : Now(() => reader.Parse(block))));
                continue;
            }

            var (parsed, parsing) = ahead.Dequeue();
            parsing.GetAwaiter().GetResult();
            parsed.Give(findings, take);
            idle.Push(parsed);
        }

        Task.WaitAll(ahead.Select(a => a.Parsing));
    }

    private static Task Now(Action parse)
    {
        parse();
        return Task.CompletedTask;
    }

    /// <summary>Parses one block after another with the same buffers.</summary>
    private sealed class BlockReader
    {
        private readonly List<ReadEvent> _events = [];
        private readonly Findings _findings = new();
        private readonly JsonText _text = new();
        private readonly JsonPlace _place;
        private readonly EventReader _reader;
        private readonly PlainSales _plain;
        private LineBlock? _block;

        public BlockReader(string file, Vocabulary words)
        {
            _place = new(file, _findings);
            (_reader, _plain) = (new(_place, words), new(words));
        }

        public void Parse(LineBlock block)
        {
            _block = block;
            foreach (var (line, bytes) in block.Lines())
            {
                if (_plain.Read(bytes) is { } sale)
                {
                    _events.Add(new(sale, line, bytes));
                    continue;
                }

                if (JsonFile.TryParse(bytes, line, _text, _place) && _reader.Read(_text.Root) is { } e)
                {
                    _events.Add(new(e, line, bytes));
                }

                if (_findings.IsFull)
                {
                    break;
                }
            }
        }

        /// <summary>Hands over what was parsed, and is ready for another block.</summary>
        public void Give(Findings findings, Action<ReadEvent> take)
        {
            findings.AddAll(_findings);
            foreach (var e in _events)
            {
                take(e);
            }

            _events.Clear();
            _findings.Clear();
            _block?.Dispose();
        }
    }
}
