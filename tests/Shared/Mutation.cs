using System.Buffers.Binary;
using System.Diagnostics;
using System.IO.Compression;
using System.Text;

namespace AnchorBend.Tests;

/// <summary>Files that were right once: bytes and pieces of them changed, moved, repeated, cut off, also within archives.</summary>
static class Mutation
{
    static readonly uint[] Extremes = [0, 1, 0x7f, 0xff, 0x7fff, 0xffff, 0x7fffffff, 0x80000000, 0xffffffff, 0x7f800000, 0x7fc00000];

    /// <summary>The first input, so that a fault is found again by its number.</summary>
    static int From => int.TryParse(Environment.GetEnvironmentVariable("ANCHOR_BEND_FUZZ_FROM"), out var from) ? from : 0;

    /// <summary>How many inputs a test makes: some by default, as many as ANCHOR_BEND_FUZZ says by hand.</summary>
    public static int Count(int some) =>
        int.TryParse(Environment.GetEnvironmentVariable("ANCHOR_BEND_FUZZ"), out var wanted) ? wanted : some;

    public static byte[] Of(byte[] seed, Random random, string[] scraps)
    {
        if (seed.AsSpan().StartsWith("PK"u8) && random.Next(3) > 0)
            return WithinArchive(seed, random, scraps);
        var bytes = seed.ToList();
        for (var left = random.Next(1, 6); left > 0; left--)
        {
            var at = random.Next(bytes.Count + 1);
            var length = Math.Min(bytes.Count - at, random.Next(4) == 0 ? random.Next(1, 400) : random.Next(1, 6));
            switch (random.Next(7))
            {
                case 0 when at < bytes.Count:
                    bytes[at] ^= (byte)(1 << random.Next(8));
                    break;
                case 1:
                    bytes.RemoveRange(at, length);
                    break;
                case 2:
                    var piece = bytes.GetRange(at, length);
                    for (var times = random.Next(8) == 0 ? 200 : 1; times > 0; times--)
                        bytes.InsertRange(random.Next(bytes.Count + 1), piece);
                    break;
                case 3:
                    bytes.InsertRange(at, Encoding.UTF8.GetBytes(scraps[random.Next(scraps.Length)]));
                    break;
                case 4 when at + 4 <= bytes.Count:
                    var word = new byte[4];
                    BinaryPrimitives.WriteUInt32LittleEndian(word, Extremes[random.Next(Extremes.Length)]);
                    for (var n = 0; n < 4; n++)
                        bytes[at + n] = word[n];
                    break;
                case 5 when random.Next(4) == 0:
                    bytes.RemoveRange(at, bytes.Count - at);
                    break;
                default:
                    if (at < bytes.Count)
                        bytes[at] = (byte)random.Next(256);
                    break;
            }
        }

        return [.. bytes];
    }

    static byte[] WithinArchive(byte[] seed, Random random, string[] scraps)
    {
        using var from = new ZipArchive(new MemoryStream(seed));
        var target = new MemoryStream();
        using (var to = new ZipArchive(target, ZipArchiveMode.Create, true))
        {
            var changed = random.Next(from.Entries.Count);
            for (var n = 0; n < from.Entries.Count; n++)
            {
                using var content = new MemoryStream();
                using (var entry = from.Entries[n].Open())
                    entry.CopyTo(content);
                var bytes = n == changed ? Of(content.ToArray(), random, scraps) : content.ToArray();
                var name = n == changed && random.Next(8) == 0 ? scraps[random.Next(scraps.Length)] : from.Entries[n].FullName;
                using var into = to.CreateEntry(name, CompressionLevel.Fastest).Open();
                into.Write(bytes);
            }
        }

        return target.ToArray();
    }

    /// <summary>What a reader does with many such files but what it promises; empty where all is well.</summary>
    /// <param name="read">Reads one; throws what it promises to throw only.</param>
    /// <param name="promised">Whether an exception is one that it may answer with.</param>
    public static List<string> Faults(
        IReadOnlyList<byte[]> seeds,
        string[] scraps,
        int count,
        Action<byte[]> read,
        Func<Exception, bool> promised
    )
    {
        var faults = new List<string>();
        for (var n = From; n < From + count && faults.Count < 5; n++)
        {
            var random = new Random(n);
            var input = Of(seeds[random.Next(seeds.Count)], random, scraps);
            var (began, allocated) = (Stopwatch.GetTimestamp(), GC.GetAllocatedBytesForCurrentThread());
            try
            {
                read(input);
            }
            catch (Exception e) when (promised(e) && e.Message.Length is > 0 and < 2000) { }
            catch (Exception e)
            {
                faults.Add(
                    $"input {n} ({input.Length} bytes): {e.GetType().Name} {e.Message} {e.StackTrace?.Split('\n').FirstOrDefault()}"
                );
            }

            var (took, used) = (Stopwatch.GetElapsedTime(began), GC.GetAllocatedBytesForCurrentThread() - allocated);
            if (took > TimeSpan.FromSeconds(10) || used > 2L << 30)
                faults.Add(
                    $"input {n} ({input.Length} bytes, {Encoding.Latin1.GetString(input, 0, Math.Min(40, input.Length))}): "
                        + $"{took.TotalSeconds:F1} s, {used >> 20} MiB"
                );
        }

        return faults;
    }
}
