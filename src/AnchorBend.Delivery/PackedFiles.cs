using System.IO.Compression;
using System.Text;

namespace AnchorBend.Delivery;

/// <summary>Files in one archive, which has the same bytes each time.</summary>
public static class PackedFiles
{
    /// <summary>Entries have a time, and it must not be that of packing.</summary>
    static readonly DateTimeOffset Always = new(2000, 1, 1, 0, 0, 0, TimeSpan.Zero);

    public static byte[] Of(IEnumerable<(string Name, byte[] Bytes)> files)
    {
        var packed = new MemoryStream();
        using (var archive = new ZipArchive(packed, ZipArchiveMode.Create, true))
            foreach (var (name, bytes) in files)
            {
                var entry = archive.CreateEntry(name);
                entry.LastWriteTime = Always;
                using var stream = entry.Open();
                stream.Write(bytes);
            }

        return packed.ToArray();
    }

    public static (string Name, byte[] Bytes) Text(string name, string text) => (name, Encoding.UTF8.GetBytes(text));
}
