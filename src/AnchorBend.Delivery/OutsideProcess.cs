using System.Buffers.Binary;
using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;
using AnchorBend.Simulation;

namespace AnchorBend.Delivery;

/// <summary>
/// A program of its own that is asked by bytes and answers by bytes, with a limit on the time of an answer. What goes
/// wrong in it ends the run that asks, and nothing else.
/// </summary>
public sealed class OutsideProcess : IDisposable
{
    readonly Process process;
    readonly Stream given,
        told;
    readonly string name;
    readonly TimeSpan patience;
    readonly Timer watch;
    readonly MemoryStream question = new();
    long asked;
    bool wasSlow,
        isClosed;

    /// <param name="name">What people call it.</param>
    /// <param name="patience">Longest wait for an answer.</param>
    /// <param name="command">The program and its arguments, with what limits it.</param>
    public OutsideProcess(string name, IReadOnlyList<string> command, string folder, TimeSpan patience)
    {
        (this.name, this.patience) = (name, patience);
        var start = new ProcessStartInfo(command[0])
        {
            WorkingDirectory = folder,
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        foreach (var argument in command.Skip(1))
            start.ArgumentList.Add(argument);
        start.Environment.Clear();
        start.Environment["PATH"] = "/usr/bin:/bin";
        start.Environment["LC_ALL"] = "C";
        process = Process.Start(start)!;
        (given, told) = (process.StandardInput.BaseStream, process.StandardOutput.BaseStream);
        process.ErrorDataReceived += (_, e) => Note(e.Data);
        process.BeginErrorReadLine();
        watch = new Timer(_ => Look(), null, 200, 200);
    }

    readonly Lock own = new();
    string said = "";

    void Note(string? line)
    {
        lock (own)
            if (line is { Length: > 0 } && said.Length < 1000)
                said = said.Length == 0 ? line : $"{said} {line}";
    }

    void Look()
    {
        var since = Interlocked.Read(ref asked);
        if (since == 0 || Stopwatch.GetElapsedTime(since) < patience)
            return;
        wasSlow = true;
        Kill();
    }

    void Kill()
    {
        try
        {
            process.Kill(true);
        }
        catch (InvalidOperationException)
        {
            // It has ended by itself.
        }
    }

    /// <summary>Begins a question.</summary>
    public OutsideProcess Ask(char what)
    {
        question.SetLength(0);
        question.WriteByte((byte)what);
        return this;
    }

    public OutsideProcess With(int value)
    {
        Span<byte> bytes = stackalloc byte[4];
        BinaryPrimitives.WriteInt32LittleEndian(bytes, value);
        question.Write(bytes);
        return this;
    }

    public OutsideProcess With(ReadOnlySpan<double> values)
    {
        question.Write(MemoryMarshal.AsBytes(values));
        return this;
    }

    public OutsideProcess With(ReadOnlySpan<byte> bytes)
    {
        question.Write(bytes);
        return this;
    }

    /// <summary>Sends the question and waits for an answer of known length.</summary>
    /// <exception cref="SimulationException">There is none.</exception>
    public void Answer(Span<double> values) => Answer(MemoryMarshal.AsBytes(values));

    /// <exception cref="SimulationException">There is none.</exception>
    public void Answer(Span<byte> bytes)
    {
        Interlocked.Exchange(ref asked, Stopwatch.GetTimestamp());
        try
        {
            if (question.Length > 0)
            {
                given.Write(question.GetBuffer(), 0, (int)question.Length);
                given.Flush();
                question.SetLength(0);
            }

            told.ReadExactly(bytes);
        }
        catch (Exception e) when (e is IOException or ObjectDisposedException or InvalidOperationException)
        {
            throw new SimulationException(Lost());
        }
        finally
        {
            Interlocked.Exchange(ref asked, 0);
        }
    }

    public int AnswerInteger()
    {
        Span<byte> bytes = stackalloc byte[4];
        Answer(bytes);
        return BinaryPrimitives.ReadInt32LittleEndian(bytes);
    }

    SimulationFailure Lost()
    {
        var end = isClosed || !process.WaitForExit(500) ? (int?)null : process.ExitCode;
        string words;
        lock (own)
            words = said;
        return new SimulationFailure(
            "outside",
            wasSlow ? string.Create(CultureInfo.InvariantCulture, $"'{name}' did not answer within {patience.TotalSeconds:G3} s.")
                : end is { } code
                    ? string.Create(CultureInfo.InvariantCulture, $"'{name}' ended with {code} while it was asked. {words}").Trim()
                : $"'{name}' cannot be reached any more.",
            "",
            null,
            0,
            "What was computed up to then is kept. Run it anew; if it ends again, look at what it is given."
        );
    }

    /// <summary>Whether it still goes on.</summary>
    public bool IsThere => !isClosed && !process.HasExited;

    /// <summary>Whether it has ended though nobody closed it.</summary>
    public bool IsLost => !isClosed && process.HasExited;

    public void Dispose()
    {
        if (isClosed)
            return;
        isClosed = true;
        watch.Dispose();
        Kill();
        process.Dispose();
    }
}
