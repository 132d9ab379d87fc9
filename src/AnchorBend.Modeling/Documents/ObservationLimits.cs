namespace AnchorBend.Modeling.Documents;

/// <summary>What measures, sheets of plots, stimuli and operating points may hold.</summary>
static class ObservationLimits
{
    const int MostMeasures = 1000,
        MostSheets = 100,
        MostTiles = 60,
        MostCurves = 200,
        MostPins = 200,
        MostStimuli = 200,
        MostTracks = 200,
        MostPoints = 200,
        MostPointValues = 500,
        MostStates = 20_000,
        LongestText = 10_000,
        Columns = 12,
        MostRows = 10_000;

    static readonly string[] Responses = ["gain", "phase", "nyquist", "nichols", "step"];

    static readonly string[] Windows = ["rectangular", "hann", "hamming", "blackman", "flattop"];

    public static void Hold(ModelDocument document)
    {
        if (document.Measures is null || document.PlotSheets is null || document.Stimuli is null || document.OperatingPoints is null)
            throw new DocumentException("A collection of the document is null.");
        DocumentLimits.AtMost("measures", document.Measures.Count, MostMeasures);
        DocumentLimits.AtMost("sheets of plots", document.PlotSheets.Count, MostSheets);
        DocumentLimits.AtMost("stimuli", document.Stimuli.Count, MostStimuli);
        DocumentLimits.AtMost("operating points", document.OperatingPoints.Count, MostPoints);
        foreach (var (id, measure) in document.Measures)
        {
            Named("measure", id, measure?.Name);
            DocumentLimits.Within(measure!.Expression, LongestText, $"The measure {measure.Name}");
            DocumentLimits.Within(measure.Description, LongestText, "The description of a measure");
        }

        foreach (var (id, sheet) in document.PlotSheets)
            Check(id, sheet);
        foreach (var (id, stimulus) in document.Stimuli)
            Check(id, stimulus);
        foreach (var (id, point) in document.OperatingPoints)
            Check(id, point);
    }

    static void Check(string id, OperatingPointNode? point)
    {
        Named("operating point", id, point?.Name);
        DocumentLimits.Within(point!.Description, LongestText, "The description of an operating point");
        Finite(point.Name, point.At);
        void Told(string? target, params ReadOnlySpan<string?> texts)
        {
            if (target is not { Length: > 0 })
                throw new DocumentException($"The operating point '{DocumentLimits.Short(point.Name)}' is incomplete.");
            DocumentLimits.Within(target, 4 * DocumentLimits.LongestName, "A signal of an operating point");
            foreach (var text in texts)
                DocumentLimits.Within(text, LongestText, "A value of an operating point");
        }

        if (
            point is not { Parameters: { } parameters, Fixed: { } wanted, Free: { } free, States: { } states, Moving: { } moving }
            || parameters.Any(v => v?.Value is null)
            || wanted.Any(w => w is null)
            || free.Any(f => f is null)
            || states.Any(s => s is null)
        )
            throw new DocumentException($"The operating point '{DocumentLimits.Short(point.Name)}' is incomplete.");
        DocumentLimits.AtMost($"values of {point.Name}", parameters.Count + wanted.Count + free.Count + moving.Count, MostPointValues);
        DocumentLimits.AtMost($"states of {point.Name}", states.Count, MostStates);
        foreach (var value in parameters)
            Told(value.Target, value.Value);
        foreach (var w in wanted)
            Told(w.Target, w.Value, w.Low, w.High);
        foreach (var name in moving)
            Told(name);
        foreach (var f in free)
            Told(f.Target, f.Low, f.High);
        foreach (var state in states)
        {
            Told(state.Target);
            Finite(point.Name, state.Value);
        }
    }

    static void Check(string id, PlotSheetNode? sheet)
    {
        Named("sheet of plots", id, sheet?.Name);
        Finite(sheet!.Name, sheet.Order);
        if (sheet.Tiles is null)
            throw new DocumentException($"The sheet '{DocumentLimits.Short(sheet.Name)}' is incomplete.");
        DocumentLimits.AtMost($"tiles in {sheet.Name}", sheet.Tiles.Count, MostTiles);
        foreach (var (tileId, tile) in sheet.Tiles)
        {
            if (
                tile is not { Curves: not null, Strips: not null, Pins: not null, Views: not null }
                || !PartPath.IsId(tileId)
                || !Enum.IsDefined(tile.Kind)
            )
                throw new DocumentException($"The tile '{DocumentLimits.Short(tileId)}' of {sheet.Name} is incomplete.");
            DocumentLimits.Within(tile.Title, DocumentLimits.LongestName, "The title of a tile");
            DocumentLimits.Within(tile.Abscissa, DocumentLimits.LongestName, "A signal");
            if (
                tile.X < 0
                || tile.Y < 0
                || tile.Width < 1
                || tile.Height < 1
                || tile.X + tile.Width > Columns
                || tile.Y + tile.Height > MostRows
            )
                throw new DocumentException($"A tile of {sheet.Name} does not lie on the grid of {Columns} columns.");
            Check(sheet.Name, tile);
        }
    }

    static void Check(string sheet, ResponseNode? response)
    {
        if (response is null)
            return;
        if (response is not { From: not null, To: not null, Open: not null, Points: not null })
            throw new DocumentException($"A response of {sheet} is incomplete.");
        if (!Responses.Contains(response.Shows))
            throw new DocumentException($"A response of {sheet} shows one of {string.Join(", ", Responses)}.");
        DocumentLimits.AtMost($"operating points of a response of {sheet}", response.Points.Count, MostCurves);
        DocumentLimits.AtMost($"cuts of a response of {sheet}", response.Open.Count, MostCurves);
        foreach (var signal in (string?[])[response.From, response.To, .. response.Open, .. response.Points])
            DocumentLimits.Within(signal ?? "", 4 * DocumentLimits.LongestName, "A signal");
        Finite(sheet, response.At ?? 0);
    }

    static void Check(string sheet, TileNode tile)
    {
        DocumentLimits.AtMost($"curves in a tile of {sheet}", tile.Curves.Count, MostCurves);
        DocumentLimits.AtMost($"strips in a tile of {sheet}", tile.Strips.Count, MostTiles);
        DocumentLimits.AtMost($"notes in a tile of {sheet}", tile.Pins.Count, MostPins);
        DocumentLimits.AtMost($"views of a scene of {sheet}", tile.Views.Count, MostPins);
        foreach (var view in tile.Views)
        {
            if (view is not { Name: not null, Eye: { } eye, Aim: { } aim })
                throw new DocumentException($"A view of a scene of {sheet} is incomplete.");
            DocumentLimits.Within(view.Name, DocumentLimits.LongestName, "The name of a view");
            Finite(sheet, eye.X, eye.Y, eye.Z, aim.X, aim.Y, aim.Z);
        }

        foreach (var (id, curve) in tile.Curves)
        {
            if (curve?.Signal is null || !PartPath.IsId(id) || curve.Strip is < 0 or >= MostTiles || curve.Color is < 0 or > 1000)
                throw new DocumentException($"The curve '{DocumentLimits.Short(id)}' of {sheet} is incomplete.");
            DocumentLimits.Within(curve.Signal, 4 * DocumentLimits.LongestName, "A signal");
            Finite(sheet, curve.Factor, curve.Offset, curve.Width ?? 1);
            if (curve.Width is < 0.1 or > 20)
                throw new DocumentException($"A curve of {sheet} is between 0.1 and 20 points wide.");
            if (curve.Dash is not (null or "solid" or "dashed" or "dotted"))
                throw new DocumentException($"A curve is solid, dashed or dotted, not '{DocumentLimits.Short(curve.Dash)}'.");
        }

        foreach (var axis in tile.Strips.SelectMany(s => (AxisNode?[])[s?.Left, s?.Right]).Append(tile.Across ?? new AxisNode()))
        {
            if (axis is null)
                throw new DocumentException($"An axis of {sheet} is incomplete.");
            Finite(sheet, axis.From ?? 0, axis.To ?? 0);
            DocumentLimits.Within(axis.Title, DocumentLimits.LongestName, "The title of an axis");
            DocumentLimits.Within(axis.Unit, DocumentLimits.LongestName, "A unit");
        }

        foreach (var pin in tile.Pins.Values)
        {
            if (pin?.Text is null)
                throw new DocumentException($"A note of {sheet} is incomplete.");
            Finite(sheet, pin.X, pin.Y);
            DocumentLimits.Within(pin.Text, LongestText, "A note");
        }

        Check(sheet, tile.Response);
        if (tile.Spectrum is not { } spectrum)
            return;
        if (!Windows.Contains(spectrum.Window) || spectrum.Averages is < 1 or > 1000 || spectrum.Form is not ("amplitude" or "density"))
            throw new DocumentException(
                $"A spectrum of {sheet} needs a window ({string.Join(", ", Windows)}), 1 to 1000 averages, and amplitude or density."
            );
        Finite(sheet, spectrum.From ?? 0, spectrum.To ?? 0);
    }

    static void Check(string id, StimulusNode? stimulus)
    {
        Named("stimulus", id, stimulus?.Name);
        if (stimulus!.Tracks is null || stimulus.Stops?.All(s => s is not null) != true)
            throw new DocumentException($"The stimulus '{DocumentLimits.Short(stimulus.Name)}' is incomplete.");
        DocumentLimits.Within(stimulus.Description, LongestText, "The description of a stimulus");
        DocumentLimits.AtMost($"tracks in {stimulus.Name}", stimulus.Tracks.Count, MostTracks);
        DocumentLimits.AtMost($"points in {stimulus.Name}", stimulus.Tracks.Values.Sum(t => t?.Times?.Count ?? 0), StimulusNode.MostPoints);
        DocumentLimits.AtMost($"stops in {stimulus.Name}", stimulus.Stops.Count, StimulusNode.MostPoints);
        foreach (var stops in stimulus.Stops)
        {
            Finite(stimulus.Name, stops.From, stops.Every ?? 1, stops.Until ?? 0);
            if (stops.Every is <= 0)
                throw new DocumentException($"Stops of {stimulus.Name} must lie apart.");
        }

        foreach (var (trackId, track) in stimulus.Tracks)
        {
            if (
                track is not { Target: not null, Times: not null, Values: not null }
                || !PartPath.IsId(trackId)
                || !Enum.IsDefined(track.Shape)
            )
                throw new DocumentException($"The track '{DocumentLimits.Short(trackId)}' of {stimulus.Name} is incomplete.");
            DocumentLimits.Within(track.Target, 4 * DocumentLimits.LongestName, "The signal of a track");
            DocumentLimits.Within(track.Unit, DocumentLimits.LongestName, "A unit");
            if (track.Times.Count != track.Values.Count)
                throw new DocumentException($"A track of {stimulus.Name} has {track.Times.Count} times but {track.Values.Count} values.");
            Finite(stimulus.Name, [.. track.Times, .. track.Values]);
            if (track.Times.Zip(track.Times.Skip(1)).Any(p => p.Second < p.First))
                throw new DocumentException($"The times of a track of {stimulus.Name} must rise.");
        }
    }

    static void Named(string what, string id, string? name)
    {
        if (!PartPath.IsId(id))
            throw new DocumentException($"'{DocumentLimits.Short(id)}' cannot be the id of a {what}.");
        if (string.IsNullOrWhiteSpace(name))
            throw new DocumentException($"A {what} needs a name.");
        DocumentLimits.Within(name, DocumentLimits.LongestName, $"The name of a {what}");
    }

    static void Finite(string where, params ReadOnlySpan<double> numbers)
    {
        foreach (var number in numbers)
            if (!double.IsFinite(number))
                throw new DocumentException($"A number of {where} is not finite.");
    }
}
