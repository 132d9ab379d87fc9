using AnchorBend.Workbench.People;

namespace AnchorBend.Server.People;

/// <summary>What one has to be allowed for a request, by the name of its endpoint.</summary>
static class AccessRules
{
    /// <summary>Requests that send something, but only to have it looked at or run: nothing of the model or of what is kept
    /// changes.</summary>
    static readonly HashSet<string> Looks =
    [
        "branchRun",
        "cancelRun",
        "cancelRunSet",
        "checkCode",
        "checkField",
        "checkPart",
        "checkRule",
        "compareSheet",
        "compareStates",
        "copyModel",
        "designMap",
        "designRun",
        "designs",
        "fitValveTwin",
        "getSignalViews",
        "getStudyBands",
        "getStudyChart",
        "getStudySummary",
        "goOn",
        "linear",
        "linearSystem",
        "locus",
        "lookAtCase",
        "loopElement",
        "loops",
        "modes",
        "movers",
        "overlayStudyRows",
        "pauseRun",
        "plantOrder",
        "playRun",
        "pointDesigns",
        "previewImport",
        "previewRestructuring",
        "readCase",
        "readRequirements",
        "readStudyRows",
        "recoverSignals",
        "saveState",
        "setPace",
        "setValue",
        "showState",
        "sizeExchanger",
        "startRun",
        "startRunSet",
        "stateFeedback",
        "steady",
        "steadySeries",
        "stopRun",
        "sweep",
        "transient",
        "tuneStep",
        "writeCode",
    ];

    static readonly HashSet<string> Administers = ["deleteModel", "placeModel", "trashModel", "takeOutOfTrash"];

    /// <summary>What has to be allowed on the model that a request is about.</summary>
    public static Access Wanted(string method, string? endpoint) =>
        HttpMethods.IsGet(method) || HttpMethods.IsHead(method) || endpoint is not null && Looks.Contains(endpoint) ? Access.View
        : endpoint is not null && Administers.Contains(endpoint) ? Access.Administer
        : Access.Edit;

    /// <summary>Whether the audit log says that it was done. Edits stand in the history of their model, with who made them and
    /// when.</summary>
    public static bool IsNoted(string method, string? endpoint) =>
        Wanted(method, endpoint) > Access.View && endpoint is not (null or "editModel" or "undo" or "redo" or "restructure");
}
