using System.Globalization;

namespace DuneCrate.Web.Forms;

/// <summary>Numbers of an address; what cannot be read counts as not said.</summary>
public static class QueryNumbers
{
    /// <summary>A finite number, or null.</summary>
    public static double? Number(this IQueryCollection query, string name) =>
        double.TryParse(query[name], CultureInfo.InvariantCulture, out double n) && double.IsFinite(n) ? n : null;

    /// <summary>A whole number.</summary>
    public static int Whole(this IQueryCollection query, string name, int usual = 0) =>
        int.TryParse(query[name], CultureInfo.InvariantCulture, out int n) ? n : usual;
}
