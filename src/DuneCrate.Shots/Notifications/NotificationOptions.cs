using System.ComponentModel.DataAnnotations;

namespace DuneCrate.Shots.Notifications;

/// <summary>How people and programs outside are told; from the section Notifications of the configuration, never from a page.</summary>
public sealed class NotificationOptions
{
    /// <summary>Name of the section.</summary>
    public const string Section = "Notifications";

    /// <summary>Mail server, or null for no mail.</summary>
    public string? SmtpHost { get; set; }

    /// <summary>Its port.</summary>
    [Range(1, 65535, ErrorMessage = "is a port from 1 to 65535")]
    public int SmtpPort { get; set; } = 587;

    /// <summary>Whether the connection is encrypted; only a server on this machine may do without.</summary>
    public bool SmtpTls { get; set; } = true;

    /// <summary>Account at the mail server, or null.</summary>
    public string? SmtpUser { get; set; }

    /// <summary>File that holds its password, or null.</summary>
    public string? SmtpPasswordFile { get; set; }

    /// <summary>Sender of mails.</summary>
    [EmailAddress(ErrorMessage = "is no mail address")]
    public string From { get; set; } = "dune-crate@localhost";

    /// <summary>Folder that mails are put into instead of a server: the stand-in.</summary>
    public string? DropFolder { get; set; }

    /// <summary>Program that gets every document on its standard input, or null.</summary>
    public string? Program { get; set; }

    /// <summary>Address that every document is posted to, or null.</summary>
    [Url(ErrorMessage = "is no address: write https://host/path")]
    public string? Address { get; set; }

    /// <summary>Address of this application as people reach it, for links in mails.</summary>
    [Url(ErrorMessage = "is no address: write https://host")]
    public string? PublicAddress { get; set; }

    /// <summary>Whether mails can go out at all.</summary>
    public bool HasMail => SmtpHost is { Length: > 0 } || DropFolder is { Length: > 0 };
}
