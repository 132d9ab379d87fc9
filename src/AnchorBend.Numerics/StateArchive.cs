namespace AnchorBend.Numerics;

/// <summary>
/// Saves or loads internal state, one and the same code for both directions: what is exchanged in an order is written in it, or read.
/// Numbers keep their bits.
/// </summary>
public sealed unsafe class StateArchive
{
    readonly BinaryWriter? writer;
    readonly BinaryReader? reader;

    public StateArchive(BinaryWriter writer) => this.writer = writer;

    public StateArchive(BinaryReader reader) => this.reader = reader;

    public bool IsSaving => writer is not null;

    public void Transfer(ref double value)
    {
        if (writer is not null)
            writer.Write(value);
        else
            value = reader!.ReadDouble();
    }

    public void Transfer(ref int value)
    {
        if (writer is not null)
            writer.Write(value);
        else
            value = reader!.ReadInt32();
    }

    public void Transfer(ref long value)
    {
        if (writer is not null)
            writer.Write(value);
        else
            value = reader!.ReadInt64();
    }

    public void Transfer(ref bool value)
    {
        if (writer is not null)
            writer.Write(value);
        else
            value = reader!.ReadBoolean();
    }

    public void Transfer(ref string value)
    {
        if (writer is not null)
            writer.Write(value);
        else
            value = reader!.ReadString();
    }

    public void Transfer(Span<double> values)
    {
        foreach (ref var value in values)
            Transfer(ref value);
    }

    public void Transfer(Span<long> values)
    {
        foreach (ref var value in values)
            Transfer(ref value);
    }

    /// <summary>A pointer to one of several vectors of equal length that lie one behind another.</summary>
    public void Transfer(ref double* vector, double* first, int length)
    {
        var index = (int)((vector - first) / length);
        Transfer(ref index);
        vector = first + (long)index * length;
    }
}
