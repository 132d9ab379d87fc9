using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;

namespace AnchorBend.Delivery.Exchange;

/// <summary>An exchange unit as somebody else has packed it: nothing in it is trusted.</summary>
public sealed class UnitArchive
{
    /// <summary>Bytes of the archive, of all that is in it, and of its description.</summary>
    public const long MostPacked = 64L << 20,
        MostUnpacked = 256L << 20,
        MostDescription = 32L << 20;

    /// <summary>Files in it, and how much smaller than its content a large one may be packed.</summary>
    const int MostFiles = 5000,
        MostRatio = 500,
        Large = 1 << 20;

    readonly byte[] bytes;

    UnitArchive(byte[] bytes, UnitDescription description)
    {
        (this.bytes, Description) = (bytes, description);
        Hash = Convert.ToHexStringLower(SHA256.HashData(bytes))[..32];
    }

    /// <summary>The same for the same bytes.</summary>
    public string Hash { get; }

    public UnitDescription Description { get; }

    public ReadOnlySpan<byte> Bytes => bytes;

    /// <summary>Reads what the archive says of itself; its program is not touched.</summary>
    /// <exception cref="DeliveryException">It is no exchange unit that can be used here; says why.</exception>
    public static UnitArchive Read(byte[] bytes, CancellationToken wanted)
    {
        if (bytes.LongLength > MostPacked)
            throw Refused($"The archive is larger than {MostPacked >> 20} MiB.");
        try
        {
            using var archive = new ZipArchive(new MemoryStream(bytes), ZipArchiveMode.Read, false, Encoding.UTF8);
            Check(archive);
            var entry = archive.GetEntry("modelDescription.xml") ?? throw Refused("It has no file modelDescription.xml.");
            using var text = new MemoryStream(Unpacked(entry, MostDescription, wanted));
            var description = UnitDescription.Read(text);
            if (archive.GetEntry(Program(description)) is null)
                throw Refused($"It has no program for Linux on this processor ({Program(description)}).");
            return new UnitArchive(bytes, description);
        }
        catch (Exception e) when (e is InvalidDataException or NotSupportedException or ArgumentException)
        {
            throw Refused("It is no archive that can be unpacked.");
        }
    }

    static string Program(UnitDescription description) =>
        $"binaries/{(description.IsThird ? "x86_64-linux" : "linux64")}/{description.Identifier}.so";

    static DeliveryException Refused(string message) =>
        new("archive", message, "Ask for an exchange unit (.fmu) with a program for Linux.");

    /// <summary>Names that lead outside, links, and sizes that no unit has.</summary>
    static void Check(ZipArchive archive)
    {
        if (archive.Entries.Count > MostFiles)
            throw Refused($"It holds more than {MostFiles} files.");
        var all = 0L;
        foreach (var entry in archive.Entries)
        {
            var name = entry.FullName;
            const int LinkOrDevice = 0xF000,
                File = 0x8000,
                Folder = 0x4000;
            var kind = entry.ExternalAttributes >> 16 & LinkOrDevice;
            if (
                name.Length is 0 or > 1000
                || name.Contains('\\')
                || name.Contains('\0')
                || name.StartsWith('/')
                || name.Split('/').Any(part => part is ".." or ".")
                || kind is not (0 or File or Folder)
            )
                throw Refused("It holds a file that would lie outside of it, or a link.");
            all += entry.Length;
            if (entry.Length > Math.Max(Large, MostRatio * entry.CompressedLength) || all > MostUnpacked)
                throw Refused($"What it holds is larger than {MostUnpacked >> 20} MiB, or packed beyond all measure.");
        }
    }

    /// <summary>Counts what really comes out: sizes in an archive may be wrong.</summary>
    static byte[] Unpacked(ZipArchiveEntry entry, long most, CancellationToken wanted)
    {
        using var from = entry.Open();
        using var to = new MemoryStream();
        Copy(from, to, most, wanted);
        return to.ToArray();
    }

    static long Copy(Stream from, Stream to, long most, CancellationToken wanted)
    {
        var buffer = new byte[1 << 16];
        var all = 0L;
        int count;
        while ((count = from.Read(buffer)) > 0)
        {
            wanted.ThrowIfCancellationRequested();
            Language.WorkBudget.Current.Check();
            all += count;
            if (all > most)
                throw Refused("What it holds is larger than it says, or than is taken.");
            to.Write(buffer, 0, count);
        }

        return all;
    }

    /// <summary>Puts its program and its resources into a folder, readable by anybody and changed by nobody.</summary>
    /// <returns>The program.</returns>
    /// <exception cref="DeliveryException">It holds more than it says.</exception>
    public string ExtractTo(string folder, CancellationToken wanted)
    {
        using var archive = new ZipArchive(new MemoryStream(bytes), ZipArchiveMode.Read, false, Encoding.UTF8);
        var program = Program(Description);
        var left = MostUnpacked;
        var place = program[..(program.LastIndexOf('/') + 1)];
        foreach (var entry in archive.Entries)
        {
            var name = entry.FullName;
            if (
                name.EndsWith('/')
                || !name.StartsWith(place, StringComparison.Ordinal) && !name.StartsWith("resources/", StringComparison.Ordinal)
            )
                continue;
            var path = Path.Combine(folder, name);
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            using var from = entry.Open();
            using var to = File.Create(path);
            left -= Copy(from, to, left, wanted);
        }

        Directory.CreateDirectory(Path.Combine(folder, "resources"));
        return Path.Combine(folder, program);
    }
}
