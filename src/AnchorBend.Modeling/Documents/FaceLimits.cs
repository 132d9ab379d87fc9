namespace AnchorBend.Modeling.Documents;

/// <summary>What every face obeys: strokes are complete and few enough to draw at once, pictures are small and hold nothing but a
/// picture.</summary>
public static class FaceLimits
{
    /// <summary>Most strokes of a symbol, and most points of one.</summary>
    public const int MostStrokes = 300,
        MostPoints = 100;

    /// <summary>Longest data URL of a picture, in characters.</summary>
    public const int LongestPicture = 200_000;

    /// <exception cref="DocumentException">Says what is wrong.</exception>
    internal static void Check(FaceNode face)
    {
        DocumentLimits.Within(face.Formula, DocumentLimits.LongestField, "The formula of a face");
        DocumentLimits.Within(face.Help, DocumentLimits.LongestField, "The help of a face");
        if (face.Sketch is { } sketch)
        {
            DocumentLimits.AtMost("strokes in a symbol", sketch.Count, MostStrokes);
            foreach (var stroke in sketch)
                Check(stroke);
        }

        if (face.Picture is { } picture)
            FacePicture.Check(picture);
    }

    static void Check(StrokeNode? stroke)
    {
        var least = stroke?.Kind switch
        {
            StrokeKind.Arc => 3,
            StrokeKind.Text => 1,
            _ => 2,
        };
        if (stroke?.Points is null || stroke.Points.Count < least || stroke.Points.Exists(p => p is null || !double.IsFinite(p.X + p.Y)))
            throw new DocumentException($"A stroke of a symbol is incomplete: it needs {least} points on the diagram.");
        DocumentLimits.AtMost("points in a stroke", stroke.Points.Count, MostPoints);
        DocumentLimits.Within(stroke.Text, DocumentLimits.LongestName, "A text in a symbol");
    }
}
