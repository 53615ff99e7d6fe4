namespace DuneCrate.StandIns.DropBox;

/// <summary>What goes wrong at the stand-in of an outside site, so that trying again can be tried.</summary>
public enum DropBoxFault
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>Every fifth transfer breaks off in the middle.</summary>
    BreaksOff,

    /// <summary>Every fifth transfer arrives with a byte changed.</summary>
    Damages,

    /// <summary>It answers nobody.</summary>
    Silent,
}
