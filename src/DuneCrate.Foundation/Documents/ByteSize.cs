using System.Globalization;

namespace DuneCrate.Foundation.Documents;

/// <summary>Bytes for people: binary units, three significant digits.</summary>
public static class ByteSize
{
    private static readonly string[] Units = ["bytes", "KiB", "MiB", "GiB", "TiB", "PiB"];

    /// <summary>"530 KiB", "1.04 GiB".</summary>
    public static string Text(double bytes)
    {
        int unit = 0;
        while (bytes >= 1000 && unit < Units.Length - 1)
        {
            bytes /= 1024;
            unit++;
        }

        return string.Create(
            CultureInfo.InvariantCulture,
            $"{bytes.ToString(unit == 0 || bytes >= 100 ? "0" : bytes >= 10 ? "0.0" : "0.00", CultureInfo.InvariantCulture)} {Units[unit]}"
        );
    }
}
