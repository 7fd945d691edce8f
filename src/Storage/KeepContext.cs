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
        b.ApplyConfiguration(new CommitTable(ByteOrder));
        b.ApplyConfiguration(new VersionTable(ByteOrder));
        b.ApplyConfiguration(new RecordTable(ByteOrder));
        b.ApplyConfiguration(new ProofFileTable());
        b.ApplyConfiguration(new LinkTable());
        b.ApplyConfiguration(new VersionLinkTable());
        b.ApplyConfiguration(new PrefixTable(ByteOrder));
        b.ApplyConfiguration(new SharedEntryTable());
        b.ApplyConfiguration(new LookupTable());
        b.ApplyConfiguration(new TunnelTable());
        b.ApplyConfiguration(new FindingTable(ByteOrder));
        b.ApplyConfiguration(new WordTable(ByteOrder));
        b.ApplyConfiguration(new DueTable(ByteOrder));
        b.ApplyConfiguration(new PersonTable());
        b.ApplyConfiguration(new TokenTable());
        b.ApplyConfiguration(new SessionTable());
        b.ApplyConfiguration(new SavedFilterTable());
        b.ApplyConfiguration(new CookieKeyTable());
        b.ApplyConfiguration(new AnsweredTable());
        b.ApplyConfiguration(new SignInTryTable());
        b.ApplyConfiguration(new KnownAddressTable());
        b.ApplyConfiguration(new AuditTable(ByteOrder));
        b.ApplyConfiguration(new KeyTable());
        b.ApplyConfiguration(new KeyViewTable());
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
