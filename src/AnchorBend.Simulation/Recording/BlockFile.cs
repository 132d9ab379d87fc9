using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace AnchorBend.Simulation.Recording;

/// <summary>Blocks of numbers of equal size in a file. One thread writes, several may read meanwhile.</summary>
sealed class BlockFile : IDisposable
{
    readonly SafeFileHandle handle;
    readonly long size,
        start;
    readonly int length;
    readonly Lock gate = new();
    (int Index, double[] Block)? last;

    /// <summary>A temporary file that goes when it is closed.</summary>
    /// <param name="length">Numbers in a block.</param>
    public BlockFile(int length)
        : this(TraceFolder.CreateFile(), length, 0) { }

    /// <param name="start">Where the first block begins, in bytes.</param>
    public BlockFile(SafeFileHandle handle, int length, long start)
    {
        (this.handle, this.length, this.start) = (handle, length, start);
        size = (long)length * sizeof(double);
    }

    Task writing = Task.CompletedTask;
    (int Index, double[] Block)? written;

    /// <summary>Begins to write a block beside the run; it must not be changed until the next call.</summary>
    /// <returns>The block of the call before, which nobody holds unless somebody reads the trace; null the first time.</returns>
    /// <exception cref="IOException">The block of the call before could not be written.</exception>
    public double[]? Write(int index, double[] block)
    {
        Finish();
        double[]? free;
        lock (gate)
        {
            free = written?.Block;
            written = (index, block);
        }

        writing = Task.Run(() => RandomAccess.Write(handle, MemoryMarshal.AsBytes(block.AsSpan()), start + index * size));
        return free;
    }

    /// <summary>Closes the file, which goes with it if it is a temporary one.</summary>
    public void Dispose()
    {
        try
        {
            Finish();
        }
        catch (IOException)
        {
            // It goes anyway.
        }

        lock (gate)
            handle.Dispose();
    }

    /// <summary>Waits until everything is written.</summary>
    /// <exception cref="IOException">The last block could not be written.</exception>
    public void Finish() => writing.GetAwaiter().GetResult();

    /// <summary>A block written before; the array is not to be changed.</summary>
    public double[] Read(int index)
    {
        lock (gate)
        {
            // The last block is still at hand, whether it could be written or not.
            if (written is { } w && w.Index == index)
                return w.Block;
            if (last is { } l && l.Index == index)
                return l.Block;
            // Another reader may still use the last array.
            var block = GC.AllocateUninitializedArray<double>(length);
            var bytes = MemoryMarshal.AsBytes(block.AsSpan());
            for (var done = 0; done < bytes.Length; )
            {
                var count = RandomAccess.Read(handle, bytes[done..], start + index * size + done);
                if (count == 0)
                    throw new EndOfStreamException("A recorded block is missing.");
                done += count;
            }

            last = (index, block);
            return block;
        }
    }
}
