using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace AnchorBend.Simulation.Recording;

/// <summary>Blocks of numbers of equal size in a temporary file that goes when its handle does. Reading is safe on several
/// threads.</summary>
sealed class BlockFile : IDisposable
{
    readonly SafeFileHandle handle;
    readonly long size;
    readonly Lock gate = new();
    double[] last;
    int lastIndex = -1;

    /// <param name="length">Numbers in a block.</param>
    public BlockFile(int length)
    {
        size = (long)length * sizeof(double);
        last = new double[length];
        handle = TraceFolder.CreateFile();
    }

    Task writing = Task.CompletedTask;
    double[]? written;
    int writtenIndex = -1;

    /// <summary>Begins to write a block beside the run; it must not be touched until the next call.</summary>
    /// <returns>The block of the call before, which is free again; null the first time.</returns>
    /// <exception cref="IOException">The block of the call before could not be written.</exception>
    public double[]? Write(int index, double[] block)
    {
        Finish();
        var free = written;
        (written, writtenIndex) = (block, index);
        writing = Task.Run(() => RandomAccess.Write(handle, MemoryMarshal.AsBytes(block.AsSpan()), index * size));
        return free;
    }

    /// <summary>Closes the file, which goes with it.</summary>
    public void Dispose()
    {
        lock (gate)
        {
            try
            {
                Finish();
            }
            catch (IOException)
            {
                // It goes anyway.
            }

            handle.Dispose();
        }
    }

    /// <summary>Waits until everything is written.</summary>
    /// <exception cref="IOException">The last block could not be written.</exception>
    public void Finish() => writing.GetAwaiter().GetResult();

    /// <summary>A block written before; the array is not to be changed.</summary>
    public double[] Read(int index)
    {
        lock (gate)
        {
            if (index == lastIndex)
                return last;
            // The last block is still at hand, whether it could be written or not.
            if (index == writtenIndex)
                return written!;
            // Another reader may still use the last array.
            var block = new double[last.Length];
            var bytes = MemoryMarshal.AsBytes(block.AsSpan());
            for (var done = 0; done < bytes.Length; )
            {
                var count = RandomAccess.Read(handle, bytes[done..], index * size + done);
                if (count == 0)
                    throw new EndOfStreamException("A recorded block is missing.");
                done += count;
            }

            (last, lastIndex) = (block, index);
            return block;
        }
    }
}
