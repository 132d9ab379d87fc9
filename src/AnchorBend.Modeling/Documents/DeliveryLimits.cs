namespace AnchorBend.Modeling.Documents;

/// <summary>What may be handed on.</summary>
static class DeliveryLimits
{
    const int MostDeliveries = 200,
        MostTunable = 1000,
        LongestHash = 64;

    public static void Hold(ModelDocument document)
    {
        if (document.Deliveries is not { } deliveries)
            throw new DocumentException("A collection of the document is null.");
        DocumentLimits.AtMost("deliveries", deliveries.Count, MostDeliveries);
        foreach (var (id, delivery) in deliveries)
        {
            if (
                !PartPath.IsId(id)
                || delivery is not { Name.Length: > 0, Step: not null, Method: "euler" or "heun" or "rk4", Version: null or "2.0" or "3.0" }
                || !PartPath.TryParse(delivery.Part ?? "", out _)
                || !double.IsFinite(delivery.Order)
                || !Enum.IsDefined(delivery.Kind)
                || delivery is { Kind: DeliveryKind.Code, IsSolvedOutside: true }
                || delivery.Tunable?.Any(t => string.IsNullOrEmpty(t)) == true
                || delivery.Delivered is { Hash: null or { Length: 0 or > LongestHash } } or { Revision: < 0 }
            )
                throw new DocumentException($"The delivery '{DocumentLimits.Short(id)}' is incomplete.");
            DocumentLimits.Within(delivery.Name, DocumentLimits.LongestName, "The name of a delivery");
            DocumentLimits.Within(delivery.Step, DocumentLimits.LongestName, "The step of a delivery");
            if (delivery.Alternative is { } alternative)
                DocumentLimits.Within(alternative, DocumentLimits.LongestName, "The alternative of a delivery");
            if (delivery.Tunable is not { } tunable)
                continue;
            DocumentLimits.AtMost($"parameters of {delivery.Name}", tunable.Count, MostTunable);
            foreach (var name in tunable)
                DocumentLimits.Within(name, DocumentLimits.LongestName, "The name of a parameter");
        }
    }
}
