namespace AnchorBend.Modeling.Documents;

/// <summary>The size of a level's plate: ports are named along its edges, around the picture in its middle.</summary>
static class PlateSize
{
    /// <summary>What a letter of a port's name takes, and a line of them.</summary>
    const double LetterWidth = 5.4,
        Line = 16;

    /// <summary>Room for the mark of a level, and for a symbol or picture.</summary>
    const double Mark = 56,
        Drawing = 104,
        MarkHeight = 48,
        DrawingHeight = 80;

    const double LeastWidth = 80,
        Grid = 8;

    /// <param name="names">The names of the ports on each edge.</param>
    public static (double Width, double Height) Of(FaceNode? face, ILookup<string, string> names)
    {
        double Longest(params string[] sides) =>
            sides.SelectMany(s => names[s]).Select(n => n.Length).DefaultIfEmpty(0).Max() * LetterWidth;
        var isDrawn = face is { Sketch: not null } or { Picture: not null };
        // The picture stays in the middle, so both sides have the room of the longer one.
        var across = 2 * Longest("left", "right") + (isDrawn ? Drawing : Mark);
        // Ports stand as far apart as their longest name is, with half of that before the first.
        var along = ((string[])["top", "bottom"]).Max(s => names[s].Any() ? (names[s].Count() + 1) * (Longest(s) + Grid) : 0);
        var height = (isDrawn ? DrawingHeight : MarkHeight) + ((string[])["top", "bottom"]).Sum(s => names[s].Any() ? Line : 0);
        return (Grid * Math.Ceiling(Math.Max(LeastWidth, Math.Max(across, along)) / Grid), height);
    }
}
