namespace AnchorBend.Modeling.Documents;

/// <summary>A sheet of plots, which every run fills again: tiles on a grid of twelve columns.</summary>
public sealed record PlotSheetNode
{
    public required string Name { get; init; }

    /// <summary>Its place among the sheets; smaller stands further left.</summary>
    public double Order { get; init; }

    public Dictionary<string, TileNode> Tiles { get; init; } = [];
}

public enum TileKind
{
    /// <summary>Strips over one axis of time.</summary>
    Strips,

    /// <summary>A quantity against another one.</summary>
    Against,

    Spectrum,

    /// <summary>Amplitude over orders of a shaft's speed.</summary>
    Orders,

    Histogram,

    /// <summary>Figures of signals as a table.</summary>
    Table,

    /// <summary>One value, large.</summary>
    Number,

    /// <summary>What holds when, as bands of colour.</summary>
    Bands,

    /// <summary>The response of the linear system between two signals.</summary>
    Response,

    /// <summary>Bodies as they move.</summary>
    Scene,
}

/// <summary>A tile of a sheet.</summary>
public sealed record TileNode
{
    public TileKind Kind { get; init; }

    public string? Title { get; init; }

    /// <summary>Left edge and width in columns of the grid, top edge and height in its rows.</summary>
    public int X { get; init; }

    public int Y { get; init; }

    public int Width { get; init; } = 12;

    public int Height { get; init; } = 6;

    /// <summary>What is drawn, in the order in which it was added.</summary>
    public Dictionary<string, CurveNode> Curves { get; init; } = [];

    /// <summary>Axes of the strips from top to bottom, or of the one plot; missing ones are automatic.</summary>
    public IReadOnlyList<StripNode> Strips { get; init; } = [];

    /// <summary>The axis along the bottom, where it is no time; null for an automatic one.</summary>
    public AxisNode? Across { get; init; }

    /// <summary>What stands along the bottom of a plot against a quantity, or the speed that orders are of (<see cref="SignalReference"/>,
    /// or a name).</summary>
    public string? Abscissa { get; init; }

    public SpectrumNode? Spectrum { get; init; }

    public ResponseNode? Response { get; init; }

    /// <summary>Notes that are pinned to points.</summary>
    public Dictionary<string, PinNode> Pins { get; init; } = [];

    /// <summary>Where the scene was looked at from, kept under names.</summary>
    public IReadOnlyList<SceneViewNode> Views { get; init; } = [];
}

/// <summary>A place that a scene is looked at from.</summary>
/// <param name="Eye">Where the camera stands, m, in the directions of the picture: y up, z towards the reader.</param>
/// <param name="Aim">What it looks at.</param>
public sealed record SceneViewNode(string Name, Triple Eye, Triple Aim);

/// <summary>The axes of one strip: at the left, and a second one at the right for curves that ask for it.</summary>
public sealed record StripNode
{
    public AxisNode Left { get; init; } = new();

    public AxisNode Right { get; init; } = new();
}

/// <summary>An axis; what is not said is automatic.</summary>
public sealed record AxisNode
{
    public string? Title { get; init; }

    public bool Logarithmic { get; init; }

    public double? From { get; init; }

    public double? To { get; init; }

    /// <summary>A unit of the dimension of what is drawn; that of the first curve without it.</summary>
    public string? Unit { get; init; }
}

/// <summary>A curve of a tile. A value v is drawn at factor · v + offset, in the unit of its axis.</summary>
public sealed record CurveNode
{
    /// <summary>The signal (<see cref="SignalReference"/>), or the name of something that is no port.</summary>
    public required string Signal { get; init; }

    /// <summary>The strip it stands in, from the top.</summary>
    public int Strip { get; init; }

    public bool OnRight { get; init; }

    /// <summary>Its place in the palette; that of its order among the curves without one.</summary>
    public int? Color { get; init; }

    /// <summary>solid, dashed or dotted.</summary>
    public string? Dash { get; init; }

    public double? Width { get; init; }

    public double Factor { get; init; } = 1;

    public double Offset { get; init; }

    /// <summary>Whether the value is held until the next point instead of joined to it by a line.</summary>
    public bool Steps { get; init; }

    public bool Hidden { get; init; }

    /// <summary>Whether it is the difference to the run that others are compared with.</summary>
    public bool Difference { get; init; }
}

/// <summary>How a spectrum is made.</summary>
public sealed record SpectrumNode
{
    /// <summary>rectangular, hann, hamming, blackman or flattop.</summary>
    public string Window { get; init; } = "hann";

    /// <summary>Overlapping stretches whose spectra are averaged; 1 for one spectrum of the whole.</summary>
    public int Averages { get; init; } = 1;

    /// <summary>amplitude, or density.</summary>
    public string Form { get; init; } = "amplitude";

    /// <summary>The stretch of time; the whole run without it.</summary>
    public double? From { get; init; }

    public double? To { get; init; }
}

/// <summary>The linear system whose response a tile shows, computed anew whenever the model has changed.</summary>
public sealed record ResponseNode
{
    /// <summary>The signal that goes in, and the one that comes out (<see cref="SignalReference"/>).</summary>
    public required string From { get; init; }

    public required string To { get; init; }

    /// <summary>Signals at which loops are cut.</summary>
    public IReadOnlyList<string> Open { get; init; } = [];

    /// <summary>Ids of saved operating points, overlaid; without one the instant <see cref="At"/>.</summary>
    public IReadOnlyList<string> Points { get; init; } = [];

    /// <summary>The instant of a run, s; null for the steady state that is nearest to the start.</summary>
    public double? At { get; init; }

    /// <summary>gain, phase, nyquist, nichols (gain over phase) or step.</summary>
    public string Shows { get; init; } = "gain";

    /// <summary>Whether frequencies are in Hz instead of rad/s.</summary>
    public bool Hertz { get; init; }
}

/// <summary>A note that is pinned to a point of a tile, in the units of its axes.</summary>
public sealed record PinNode
{
    public double X { get; init; }

    public double Y { get; init; }

    public int Strip { get; init; }

    public required string Text { get; init; }
}
