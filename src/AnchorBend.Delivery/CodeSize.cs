using System.Globalization;

namespace AnchorBend.Delivery;

/// <summary>What code takes, compiled for this machine.</summary>
/// <param name="Code">Bytes of instructions and constants.</param>
/// <param name="Data">Bytes of variables that live outside the caller's structures.</param>
/// <param name="Stack">Bytes of stack at most: the frames of all functions, as if each called the next.</param>
public sealed record CodeSize(long Code, long Data, long Stack)
{
    static readonly TimeSpan MostReading = TimeSpan.FromSeconds(20);

    internal static CodeSize Of(string folder, string source, CancellationToken wanted)
    {
        var (code, said) = NativeCode.Run("size", [Path.ChangeExtension(source, ".o")], folder, MostReading, wanted);
        var row = said.Split('\n').LastOrDefault(l => l.Length > 0)?.Split((char[])[' ', '\t'], StringSplitOptions.RemoveEmptyEntries);
        if (code != 0 || row is not { Length: > 2 })
            throw new DeliveryException("size", "The size of the code cannot be read.", "Install binutils, which come with gcc.");
        var frames = File.ReadLines(Path.Combine(folder, Path.ChangeExtension(source, ".su"))).Select(l => Number(l.Split('\t')[1]));
        return new CodeSize(Number(row[0]), Number(row[1]) + Number(row[2]), frames.Sum());
    }

    static long Number(string text) => long.Parse(text, CultureInfo.InvariantCulture);
}
