using AnchorBend.Modeling.Documents;

namespace AnchorBend.Tests;

/// <summary>Parts and wires of diagrams in one line each, for tests.</summary>
static class Diagrams
{
    public static PartNode Part(string type, string name, params (string Name, string Text)[] parameters) =>
        Part(type, name, 0, 0, parameters);

    public static PartNode Part(string type, string name, double x, double y = 0, params (string Name, string Text)[] parameters) =>
        new()
        {
            Type = type,
            Name = name,
            X = x,
            Y = y,
            Parameters = parameters.ToDictionary(p => p.Name, p => p.Text),
        };

    /// <summary>A wire between ports written PART.PORT, with the identities of the parts.</summary>
    public static WireNode Wire(string from, string to) => new() { From = Port(from), To = Port(to) };

    public static PortReference Port(string text) => new(text[..text.IndexOf('.')], text[(text.IndexOf('.') + 1)..]);
}
