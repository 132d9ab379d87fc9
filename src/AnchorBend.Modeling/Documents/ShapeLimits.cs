namespace AnchorBend.Modeling.Documents;

/// <summary>What the shapes of a part may hold.</summary>
static class ShapeLimits
{
    const int MostShapes = 200,
        MostCorners = 500;

    /// <summary>Nothing that is built is larger or further away, m.</summary>
    const double Furthest = 1e7;

    public static void Check(string part, Dictionary<string, ShapeNode> shapes)
    {
        DocumentLimits.AtMost($"shapes of {DocumentLimits.Short(part)}", shapes.Count, MostShapes);
        foreach (var (id, shape) in shapes)
        {
            if (
                shape is not { At: { } at, Turn: { } turn, Size: { } size, Outline: { } outline }
                || !PartPath.IsId(id)
                || !Enum.IsDefined(shape.Kind)
                || !Enum.IsDefined(shape.Ink)
                || outline.Contains(null!)
            )
                throw new DocumentException($"A shape of {DocumentLimits.Short(part)} is incomplete.");
            DocumentLimits.AtMost($"corners of a shape of {DocumentLimits.Short(part)}", outline.Count, MostCorners);
            DocumentLimits.Within(shape.Text, DocumentLimits.LongestName, "A text in the scene");
            DocumentLimits.Within(shape.Mesh, DocumentLimits.LongestName, "The mesh of a shape");
            DocumentLimits.Within(shape.File, DocumentLimits.LongestName, "The file of a mesh");
            double[] numbers =
            [
                at.X,
                at.Y,
                at.Z,
                turn.X,
                turn.Y,
                turn.Z,
                size.X,
                size.Y,
                size.Z,
                shape.Measure,
                shape.Order,
                .. outline.SelectMany(p => (double[])[p.X, p.Y]),
            ];
            if (!numbers.All(n => Math.Abs(n) <= Furthest))
                throw new DocumentException($"A number in a shape of {DocumentLimits.Short(part)} is none, or beyond {Furthest:g1}.");
        }
    }
}
