namespace Vellumkeep.Service.Tunnels;

/// <summary>Findings of a tunnel, accepted for a time.</summary>
public sealed partial class TunnelWork
{
    /// <summary>
    /// Accepts a finding as it stands; when its values have changed since it was read, the asker is told.
    /// </summary>
    public Task AcceptAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int version,
        AcceptFinding given,
        CancellationToken ct
    )
    {
        if (string.IsNullOrWhiteSpace(given.Reason))
            throw ProblemException.Field(
                "reason",
                "an acceptance needs a reason",
                "why it can stay, such as: replaced in spring"
            );
        var until = Scalars.Date(given.Until ?? "");
        var today = DateOnly.FromDateTime(now.UtcDateTime);
        if (!until.Ok || until.Value < today || until.Value > today.AddDays(366))
            throw ProblemException.Field(
                "until",
                until.Ok ? $"{given.Until} is not within a year from today" : until.Wrong!,
                $"a date from {Scalars.Write(today)} to {Scalars.Write(today.AddDays(366))}"
            );
        return WriteAsync(
            asker,
            new(asker.Name, now, "accept", given.Reason.Trim()),
            code,
            version,
            view =>
            {
                var found = Checks
                    .Run(new Checked(view))
                    .FirstOrDefault(f =>
                        f.Code.Equals(given.Code, StringComparison.OrdinalIgnoreCase)
                        && f.Subject == (given.Subject ?? "")
                    )
                    ?? throw ProblemException.NotFound("finding", $"{given.Code} on {view.Tunnel.Code}");
                if (found.Digest != given.Digest)
                    throw new ProblemException(
                        409,
                        "changed",
                        "The finding has changed",
                        $"{found.Code} on {view.Tunnel.Code} has changed since you read it: {found.What}. Read it again."
                    );
                return view.Tunnel with
                {
                    Accepted =
                    [
                        .. view.Tunnel.Accepted.Where(a => a.Code != found.Code || a.Subject != found.Subject),
                        new(
                            found.Code,
                            found.Subject,
                            found.Digest,
                            given.Reason.Trim(),
                            until.Value,
                            asker.Name,
                            today
                        ),
                    ],
                };
            },
            ct
        );
    }

    public Task WithdrawAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int version,
        WithdrawAcceptance given,
        CancellationToken ct
    ) =>
        WriteAsync(
            asker,
            new(asker.Name, now, "withdraw acceptance"),
            code,
            version,
            view =>
            {
                var left = view.Tunnel.Accepted.RemoveAll(a =>
                    a.Code.Equals(given.Code, StringComparison.OrdinalIgnoreCase) && a.Subject == (given.Subject ?? "")
                );
                return left.Length < view.Tunnel.Accepted.Length
                    ? view.Tunnel with
                    {
                        Accepted = left,
                    }
                    : throw ProblemException.NotFound("acceptance of", $"{given.Code} on {view.Tunnel.Code}");
            },
            ct
        );
}
