using System.Runtime.InteropServices;
using System.Text;

namespace AnchorBend.Simulation.Recording;

/// <summary>
/// Traces in files that last: a head (mark, numbers of rows, all and of a block, names of the columns), the blocks as
/// they lie in memory, and what is known of each block. A file is written under another name and renamed when it is
/// whole, so that none is ever found half.
/// </summary>
public static class TraceFile
{
    const uint Mark = 0x32544241;

    /// <param name="names">Names of the trace's variables, in their order, by which a later process finds them again.</param>
    /// <exception cref="IOException">It cannot be written; nothing is left of it.</exception>
    public static void Write(Trace trace, IReadOnlyList<string> names, string path)
    {
        var half = path + ".half";
        try
        {
            using (var file = new FileStream(half, FileMode.Create, FileAccess.Write, FileShare.None, 1 << 16))
            {
                using var writer = new BinaryWriter(file, Encoding.UTF8, leaveOpen: true);
                writer.Write(Mark);
                writer.Write(trace.Rows);
                writer.Write(trace.RowsPerBlock);
                writer.Write(names.Count);
                foreach (var name in names)
                    writer.Write(name);
                var count = trace.BlocksOf(trace.Rows);
                var length = trace.RowsPerBlock * trace.Width;
                for (var b = 0; b < count; b++)
                {
                    var summary = trace.SummaryOf(b);
                    writer.Write(summary is not null);
                    if (summary is not null)
                        writer.Write(MemoryMarshal.AsBytes(summary.AsSpan()));
                }

                for (var b = 0; b < count; b++)
                {
                    var block = trace.Block(b);
                    writer.Write(MemoryMarshal.AsBytes(block.AsSpan()));
                    // The only block of a short trace is shorter than others.
                    if (block.Length < length)
                        writer.Write(new byte[(length - block.Length) * sizeof(double)]);
                }

                writer.Flush();
                file.Flush(true);
            }

            File.Move(half, path, true);
        }
        catch
        {
            File.Delete(half);
            throw;
        }
    }

    /// <summary>Opens a file that was written before.</summary>
    /// <param name="place">The variable of a name in the model at hand; −1 where there is none, which leaves the column out of
    /// sight.</param>
    /// <exception cref="InvalidDataException">It is none, or damaged.</exception>
    public static Trace Open(string path, Func<string, int> place)
    {
        try
        {
            using var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete, 1 << 16);
            using var reader = new BinaryReader(file, Encoding.UTF8, leaveOpen: true);
            if (reader.ReadUInt32() != Mark)
                throw new InvalidDataException("This is no file of a run.");
            var (rows, rowsPerBlock) = (reader.ReadInt32(), reader.ReadInt32());
            var variables = new int[Within(reader.ReadInt32(), file.Length)];
            for (var i = 0; i < variables.Length; i++)
                // Columns that nobody asks for have numbers of their own.
                variables[i] = place(reader.ReadString()) is >= 0 and var found ? found : -2 - i;
            var shape = new Trace(variables);
            if (shape.RowsPerBlock != rowsPerBlock)
                throw new InvalidDataException("The file of the run was written by a version that orders its values otherwise.");
            var count = shape.BlocksOf(Within(rows, file.Length));
            var extremes = new double[]?[count];
            for (var b = 0; b < count; b++)
            {
                if (!reader.ReadBoolean())
                    continue;
                var summary = new double[2 * shape.Width];
                reader.BaseStream.ReadExactly(MemoryMarshal.AsBytes(summary.AsSpan()));
                extremes[b] = summary;
            }

            var start = file.Position;
            var length = shape.RowsPerBlock * shape.Width;
            if (file.Length < start + (long)count * length * sizeof(double))
                throw new InvalidDataException("The file of the run ends in the middle.");
            var handle = File.OpenHandle(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete);
            return new Trace(variables, rows, extremes, new BlockFile(handle, length, start));
        }
        catch (EndOfStreamException)
        {
            throw new InvalidDataException("The file of the run ends in the middle.");
        }
    }

    static int Within(int count, long most) =>
        count >= 0 && count <= most ? count : throw new InvalidDataException("The file of the run is damaged.");
}
