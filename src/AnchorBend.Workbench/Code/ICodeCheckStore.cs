namespace AnchorBend.Workbench.Code;

/// <summary>Where the last check of each delivery is kept.</summary>
public interface ICodeCheckStore
{
    /// <summary>By the ids of the deliveries of a model.</summary>
    IReadOnlyDictionary<string, DeliveryCheck> Of(string model);

    void Put(string model, string delivery, DeliveryCheck check);
}
