namespace Vellumkeep.Storage;

/// <summary>
/// The tables. One model for both databases; each has its own migrations because their column types differ.
/// </summary>
public abstract class KeepContext(DbContextOptions options) : DbContext(options)
{
    public DbSet<CommitRow> Commits => Set<CommitRow>();

    public DbSet<VersionRow> Versions => Set<VersionRow>();

    public DbSet<RecordRow> Records => Set<RecordRow>();

    public DbSet<LinkRow> Links => Set<LinkRow>();

    public DbSet<PrefixRow> Prefixes => Set<PrefixRow>();

    public DbSet<SharedEntryRow> Held => Set<SharedEntryRow>();

    public DbSet<LookupRow> Lookups => Set<LookupRow>();

    public DbSet<TunnelRow> Tunnels => Set<TunnelRow>();

    public DbSet<FindingRow> Findings => Set<FindingRow>();

    public DbSet<PersonRow> People => Set<PersonRow>();

    public DbSet<TokenRow> Tokens => Set<TokenRow>();

    public DbSet<SessionRow> Sessions => Set<SessionRow>();

    public DbSet<VersionLinkRow> VersionLinks => Set<VersionLinkRow>();

    public DbSet<WordRow> Words => Set<WordRow>();

    public DbSet<DueRow> Due => Set<DueRow>();

    public DbSet<KeyRow> Keys => Set<KeyRow>();

    public DbSet<ProofFileRow> ProofFiles => Set<ProofFileRow>();

    public DbSet<KeyViewRow> KeyViews => Set<KeyViewRow>();

    public DbSet<SavedFilterRow> SavedFilters => Set<SavedFilterRow>();

    public DbSet<CookieKeyRow> CookieKeys => Set<CookieKeyRow>();

    public DbSet<AnsweredRow> Answered => Set<AnsweredRow>();

    public DbSet<SignInTryRow> SignInTries => Set<SignInTryRow>();

    public DbSet<KnownAddressRow> KnownAddresses => Set<KnownAddressRow>();

    public DbSet<AuditRow> Audit => Set<AuditRow>();

    /// <summary>The collation under which text orders by its bytes: addresses and times are compared as text.</summary>
    protected abstract string ByteOrder { get; }

    protected override void OnModelCreating(ModelBuilder b)
    {
        b.Entity<CommitRow>(e =>
        {
            e.HasKey(c => c.Number);
            e.Property(c => c.Number).ValueGeneratedNever();
            e.HasIndex(c => c.ChangeId);
            e.HasIndex(c => new { c.Who, c.Number });
            e.HasIndex(c => c.At);
            e.Property(c => c.At).UseCollation(ByteOrder);
        });
        b.Entity<VersionRow>(e =>
        {
            e.HasKey(v => new { v.RecordId, v.Version });
            e.HasIndex(v => v.CommitNumber);
            e.HasIndex(v => new { v.OwnerId, v.CommitNumber });
            e.HasIndex(v => new { v.Kind, v.CommitNumber });
            e.HasIndex(v => new { v.Kind, v.CodeKey });
            e.Property(v => v.CodeKey).UseCollation(ByteOrder);
            e.HasOne<CommitRow>().WithMany().HasForeignKey(v => v.CommitNumber);
        });
        b.Entity<RecordRow>(e =>
        {
            e.HasKey(r => r.Id);
            e.Property(r => r.Version).IsConcurrencyToken();
            e.HasIndex(r => new { r.Kind, r.CodeKey }).IsUnique();
            e.Property(r => r.CodeKey).UseCollation(ByteOrder);
            e.HasIndex(r => new
            {
                r.Kind,
                r.OwnerId,
                r.CodeKey,
            });
            e.HasIndex(r => new
            {
                r.Kind,
                r.State,
                r.CodeKey,
            });
        });
        // What is projected is written in the same stroke as its record, which never goes: a foreign key on it would
        // hold nothing and cost a look-up for each row.
        b.Entity<LinkRow>(e =>
        {
            e.HasKey(l => new
            {
                l.FromId,
                l.ToId,
                l.Role,
            });
            e.HasIndex(l => new { l.ToId, l.Role });
        });
        b.Entity<PrefixRow>(e =>
        {
            e.HasKey(p => p.Id);
            e.HasIndex(p => p.RecordId);
            e.HasIndex(p => new
            {
                p.GatewayId,
                p.Family,
                p.Low,
            });
            e.HasIndex(p => new { p.Family, p.Low });
            e.Property(p => p.Low).UseCollation(ByteOrder);
            e.Property(p => p.High).UseCollation(ByteOrder);
        });
        b.Entity<SharedEntryRow>(e =>
        {
            e.HasKey(h => new
            {
                h.GatewayId,
                h.Part,
                h.TunnelId,
            });
            e.HasIndex(h => h.TunnelId);
        });
        b.Entity<LookupRow>(e =>
        {
            e.HasKey(l => new
            {
                l.GatewayId,
                l.Key,
                l.TunnelId,
                l.Held,
            });
            e.HasIndex(l => l.TunnelId);
        });
        b.Entity<TunnelRow>(e =>
        {
            e.HasKey(t => t.Id);
            e.HasIndex(t => t.CheckAgainOn);
            e.HasIndex(t => t.CheckedBy);
            e.HasIndex(t => t.Worst);
        });
        b.Entity<FindingRow>(e =>
        {
            e.HasKey(f => new
            {
                f.TunnelId,
                f.Code,
                f.Subject,
            });
            e.HasIndex(f => new
            {
                f.Code,
                f.Severity,
                f.CodeKey,
            });
            e.HasIndex(f => new
            {
                f.Severity,
                f.CodeKey,
                f.Code,
                f.Subject,
            });
            e.HasIndex(f => new
            {
                f.OwnerId,
                f.Severity,
                f.CodeKey,
            });
            e.HasIndex(f => new { f.TunnelId, f.Severity });
            e.Property(f => f.CodeKey).UseCollation(ByteOrder);
        });
        b.Entity<VersionLinkRow>(e =>
        {
            e.HasKey(l => new
            {
                l.ToId,
                l.RecordId,
                l.Version,
            });
            e.HasIndex(l => l.RecordId);
        });
        b.Entity<WordRow>(e =>
        {
            e.HasKey(w => new
            {
                w.Word,
                w.RecordId,
                w.Field,
            });
            e.HasIndex(w => w.RecordId);
            e.Property(w => w.Word).UseCollation(ByteOrder);
        });
        b.Entity<DueRow>(e =>
        {
            e.HasKey(d => new
            {
                d.RecordId,
                d.Kind,
                d.Path,
            });
            e.HasIndex(d => d.On);
            e.Property(d => d.On).UseCollation(ByteOrder);
        });
        b.Entity<KeyRow>(e => e.HasKey(k => new { k.TunnelId, k.Version }));
        b.Entity<ProofFileRow>(e => e.HasKey(f => new { f.ChangeId, f.Digest }));
        b.Entity<KeyViewRow>(e =>
        {
            e.HasKey(k => k.Id);
            e.HasIndex(k => new { k.TunnelId, k.Version });
            e.HasIndex(k => k.Who);
        });
        b.Entity<SavedFilterRow>(e =>
        {
            e.HasKey(k => k.Id);
            e.HasIndex(k => k.Person);
        });
        b.Entity<SessionRow>(e =>
        {
            e.HasKey(s => s.Id);
            e.HasIndex(s => s.Person);
        });
        b.Entity<CookieKeyRow>(e => e.HasKey(k => k.Id));
        b.Entity<AnsweredRow>(e => e.HasKey(a => new { a.Person, a.Key }));
        b.Entity<SignInTryRow>(e =>
        {
            e.HasKey(t => t.Key);
            e.HasIndex(t => t.Since);
        });
        b.Entity<KnownAddressRow>(e => e.HasKey(k => new { k.Person, k.Address }));
        b.Entity<AuditRow>(e =>
        {
            e.HasKey(a => a.Id);
            e.HasIndex(a => new { a.Who, a.Id });
            e.HasIndex(a => a.At);
            e.Property(a => a.At).UseCollation(ByteOrder);
        });
        b.Entity<PersonRow>(e => e.HasKey(p => p.Name));
        b.Entity<TokenRow>(e =>
        {
            e.HasKey(t => t.Id);
            e.HasIndex(t => t.Hash).IsUnique();
            e.HasOne<PersonRow>().WithMany().HasForeignKey(t => t.Person);
        });
    }
}

/// <summary>SQLite: the default, in one folder.</summary>
public sealed class SqliteKeepContext(DbContextOptions<SqliteKeepContext> options) : KeepContext(options)
{
    protected override string ByteOrder => "BINARY";
}

/// <summary>PostgreSQL, by a connection string.</summary>
public sealed class PostgresKeepContext(DbContextOptions<PostgresKeepContext> options) : KeepContext(options)
{
    protected override string ByteOrder => "C";
}
