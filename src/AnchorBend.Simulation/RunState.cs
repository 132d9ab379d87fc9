namespace AnchorBend.Simulation;

/// <summary>Everything a paused run goes on from.</summary>
/// <param name="Time">When it paused.</param>
/// <param name="Choice">The derivatives that are algebraic then, for a model of high index.</param>
/// <param name="Parameters">Values of all parameters, to tell whether they have changed since.</param>
/// <param name="Content">The state itself; its layout belongs to the compiled plan and to this version.</param>
public sealed record RunState(double Time, int[] Choice, double[] Parameters, byte[] Content)
{
    const int Mark = 0x41425233;

    /// <summary>Writes the state to a file's bytes.</summary>
    public byte[] ToBytes()
    {
        using var stream = new MemoryStream();
        using var writer = new BinaryWriter(stream);
        writer.Write(Mark);
        writer.Write(Time);
        writer.Write(Choice.Length);
        foreach (var index in Choice)
            writer.Write(index);
        writer.Write(Parameters.Length);
        foreach (var value in Parameters)
            writer.Write(value);
        writer.Write(Content.Length);
        writer.Write(Content);
        writer.Flush();
        return stream.ToArray();
    }

    /// <exception cref="InvalidDataException">The bytes are no saved state.</exception>
    public static RunState FromBytes(byte[] bytes)
    {
        try
        {
            using var reader = new BinaryReader(new MemoryStream(bytes));
            if (reader.ReadInt32() != Mark)
                throw new InvalidDataException("This is not a saved run.");
            var time = reader.ReadDouble();
            var choice = new int[Length(reader, sizeof(int))];
            for (var i = 0; i < choice.Length; i++)
                choice[i] = reader.ReadInt32();
            var parameters = new double[Length(reader, sizeof(double))];
            for (var i = 0; i < parameters.Length; i++)
                parameters[i] = reader.ReadDouble();
            return new RunState(time, choice, parameters, reader.ReadBytes(Length(reader, 1)));
        }
        catch (EndOfStreamException)
        {
            throw new InvalidDataException("The saved run ends in the middle.");
        }
    }

    static int Length(BinaryReader reader, int size)
    {
        var length = reader.ReadInt32();
        if (length < 0 || length > (reader.BaseStream.Length - reader.BaseStream.Position) / size)
            throw new InvalidDataException("The saved run is damaged.");
        return length;
    }
}
