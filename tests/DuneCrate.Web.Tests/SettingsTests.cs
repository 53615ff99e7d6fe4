using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Notifications;
using DuneCrate.Shots.Pictures;
using DuneCrate.Web.Operations;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.Options;

namespace DuneCrate.Web.Tests;

/// <summary>Settings that cannot be are said by their names when the application starts, in our own words.</summary>
public class SettingsTests
{
    [Theory]
    [InlineData("Checks:Threads", "0", "Checks:Threads is a number of threads from 1 to 1024.")]
    [InlineData("Checks:Threads", "all", "Checks:Threads is 'all', where a whole number belongs.")]
    [InlineData("Looking:ProxyBytes", "-1", "Looking:ProxyBytes is a number of bytes, 0 to keep none.")]
    [InlineData("Logs:Json", "often", "Logs:Json is 'often', where true or false belongs.")]
    [InlineData("Telemetry:Endpoint", "collector", "Telemetry:Endpoint is no address: write http://host:4317.")]
    [InlineData("Notifications:SmtpPort", "70000", "Notifications:SmtpPort is a port from 1 to 65535.")]
    [InlineData("Notifications:From", "somebody", "Notifications:From is no mail address.")]
    public void What_cannot_be_is_said(string name, string value, string said)
    {
        IConfiguration configuration = With(name, value);
        Func<object> read = name.Split(':')[0] switch
        {
            "Checks" => () => Settings.Read<CheckSettings>(configuration, CheckSettings.Section),
            "Looking" => () => Settings.Read<LookSettings>(configuration, LookSettings.Section),
            "Logs" => () => Settings.Read<LogSettings>(configuration, LogSettings.Section),
            "Telemetry" => () => Settings.Read<TelemetrySettings>(configuration, TelemetrySettings.Section),
            _ => () => Settings.Read<NotificationOptions>(configuration, NotificationOptions.Section),
        };
        Assert.Equal([said], Assert.Throws<OptionsValidationException>(read).Failures);
    }

    [Fact]
    public void What_is_not_set_is_as_it_ships()
    {
        IConfiguration nothing = With("Other:Thing", "1");
        Assert.Equal(Environment.ProcessorCount, Settings.Read<CheckSettings>(nothing, CheckSettings.Section).Threads);
        Assert.Equal(4L << 30, Settings.Read<LookSettings>(nothing, LookSettings.Section).ProxyBytes);
        Assert.Equal(587, Settings.Read<NotificationOptions>(nothing, NotificationOptions.Section).SmtpPort);
    }

    private static IConfiguration With(string name, string value) =>
        new ConfigurationBuilder().AddInMemoryCollection([KeyValuePair.Create(name, (string?)value)]).Build();
}
