using AnchorBend.Modeling.Documents;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>A rectangle of the diagram, in pixels of the grid.</summary>
readonly record struct Frame(double Left, double Top, double Right, double Bottom)
{
    /// <summary>The distance of the grid's points.</summary>
    public const double Grid = 8;

    public static double Snapped(double value) => Grid * Math.Round(value / Grid);

    public static Frame Of(PartNode part, (double Width, double Height) size) =>
        new(part.X, part.Y, part.X + size.Width, part.Y + size.Height);

    public static Frame Of(AreaNode area) => new(area.X, area.Y, area.X + area.Width, area.Y + area.Height);

    /// <summary>The least one around at least one frame.</summary>
    public static Frame Around(IEnumerable<Frame> frames) =>
        frames.Aggregate(
            (a, b) => new Frame(Math.Min(a.Left, b.Left), Math.Min(a.Top, b.Top), Math.Max(a.Right, b.Right), Math.Max(a.Bottom, b.Bottom))
        );

    public (double X, double Y) Middle => ((Left + Right) / 2, (Top + Bottom) / 2);

    public bool Holds(double x, double y) => x >= Left && x <= Right && y >= Top && y <= Bottom;

    /// <summary>The side of this frame that a point lies beyond; where beyond two, the one it is farther out from.</summary>
    public string SideTowards(double x, double y)
    {
        (double Out, string Side)[] sides = [(Left - x, "left"), (x - Right, "right"), (Top - y, "top"), (y - Bottom, "bottom")];
        return sides.MaxBy(s => s.Out).Side;
    }
}
