import { lazy, type ComponentType } from "react";
import { Route, Routes } from "react-router";
import { Head } from "./parts/Page";

/** A page whose code is loaded when it is first opened. */
function page<K extends string>(load: () => Promise<Record<K, ComponentType>>, name: K) {
  return lazy(async () => ({ default: (await load())[name] }));
}

const changeRoute = () => import("./change/ChangeRoute");
const draftRoute = () => import("./change/DraftRoute");
const changesRoute = () => import("./changes/ChangesRoute");
const findingsRoute = () => import("./findings/FindingsRoute");
const auditRoute = () => import("./history/AuditRoute");
const historyRoute = () => import("./history/HistoryRoute");
const keysRoute = () => import("./keys/KeysRoute");
const importRoute = () => import("./imports/ImportRoute");
const accessRoute = () => import("./people/AccessRoute");
const peopleRoute = () => import("./people/PeopleRoute");
const placeRoutes = () => import("./places/PlaceRoutes");
const customersRoute = () => import("./places/CustomersRoute");
const gatewaysRoute = () => import("./places/GatewaysRoute");
const sitesRoute = () => import("./sites/SitesRoute");
const platformRoutes = () => import("./platforms/PlatformRoutes");
const partsRoute = () => import("./gallery/PartsRoute");
const editRoute = () => import("./records/EditRoute");
const searchRoute = () => import("./search/SearchRoute");
const siteRoutes = () => import("./sites/SiteRoutes");
const glossaryRoute = () => import("./glossary/GlossaryRoute");
const calculationsRoute = () => import("./calculations/CalculationsRoute");
const todayRoute = () => import("./today/TodayRoute");
const tunnelRoute = () => import("./tunnel/TunnelRoute");
const tunnelsRoute = () => import("./tunnels/TunnelsRoute");

const ChangeRoute = page(changeRoute, "ChangeRoute");
const DraftGatewayRoute = page(draftRoute, "DraftGatewayRoute");
const DraftNewRoute = page(draftRoute, "DraftNewRoute");
const DraftRoute = page(draftRoute, "DraftRoute");
const ChangesRoute = page(changesRoute, "ChangesRoute");
const FindingsRoute = page(findingsRoute, "FindingsRoute");
const AuditRoute = page(auditRoute, "AuditRoute");
const HistoryRoute = page(historyRoute, "HistoryRoute");
const KeysRoute = page(keysRoute, "KeysRoute");
const ImportRoute = page(importRoute, "ImportRoute");
const AccessRoute = page(accessRoute, "AccessRoute");
const PeopleRoute = page(peopleRoute, "PeopleRoute");
const PersonRoute = page(peopleRoute, "PersonRoute");
const CustomerRoute = page(placeRoutes, "CustomerRoute");
const CustomersRoute = page(customersRoute, "CustomersRoute");
const GatewayRoute = page(placeRoutes, "GatewayRoute");
const GatewaysRoute = page(gatewaysRoute, "GatewaysRoute");
const PlatformRoute = page(platformRoutes, "PlatformRoute");
const PlatformsRoute = page(platformRoutes, "PlatformsRoute");
const SuiteRoute = page(platformRoutes, "SuiteRoute");
const SuitesRoute = page(platformRoutes, "SuitesRoute");
const EditRoute = page(editRoute, "EditRoute");
const NewRoute = page(editRoute, "NewRoute");
const SearchRoute = page(searchRoute, "SearchRoute");
const OfferRoute = page(siteRoutes, "OfferRoute");
const OffersRoute = page(siteRoutes, "OffersRoute");
const SiteRoute = page(siteRoutes, "SiteRoute");
const SitesRoute = page(sitesRoute, "SitesRoute");
const GlossaryRoute = page(glossaryRoute, "GlossaryRoute");
const CalculationsRoute = page(calculationsRoute, "CalculationsRoute");
const PartsRoute = page(partsRoute, "PartsRoute");
const TodayRoute = page(todayRoute, "TodayRoute");
const TunnelRoute = page(tunnelRoute, "TunnelRoute");
const TunnelsRoute = page(tunnelsRoute, "TunnelsRoute");

function NoPage() {
  return (
    <>
      <Head title="No such page" />
      <p className="empty">There is nothing at this address. Choose a page from the menu, or search.</p>
    </>
  );
}

/** Every page by its path. */
export function Pages() {
  return (
    <Routes>
      <Route path="/" element={<TodayRoute />} />
      <Route path="/tunnels" element={<TunnelsRoute />} />
      <Route path="/tunnels/:code" element={<TunnelRoute />} />
      <Route path="/tunnels/:code/plan" element={<DraftRoute />} />
      <Route path="/findings" element={<FindingsRoute />} />
      <Route path="/customers" element={<CustomersRoute />} />
      <Route path="/customers/:code" element={<CustomerRoute />} />
      <Route path="/gateways" element={<GatewaysRoute />} />
      <Route path="/gateways/:code" element={<GatewayRoute />} />
      <Route path="/gateways/:code/plan" element={<DraftGatewayRoute />} />
      <Route path="/platforms" element={<PlatformsRoute />} />
      <Route path="/platforms/:code" element={<PlatformRoute />} />
      <Route path="/keys" element={<KeysRoute />} />
      <Route path="/suites" element={<SuitesRoute />} />
      <Route path="/suites/:code" element={<SuiteRoute />} />
      <Route path="/glossary" element={<GlossaryRoute />} />
      <Route path="/calculations" element={<CalculationsRoute />} />
      <Route path="/changes" element={<ChangesRoute />} />
      <Route path="/changes/new-tunnel" element={<DraftNewRoute />} />
      <Route path="/changes/:code" element={<ChangeRoute />} />
      <Route path="/sites" element={<SitesRoute />} />
      <Route path="/sites/:code" element={<SiteRoute />} />
      <Route path="/offers" element={<OffersRoute />} />
      <Route path="/offers/:code" element={<OfferRoute />} />
      <Route path="/new/:plural" element={<NewRoute />} />
      <Route path="/edit/:plural/:code" element={<EditRoute />} />
      <Route path="/search" element={<SearchRoute />} />
      <Route path="/history" element={<HistoryRoute />} />
      <Route path="/history/audit" element={<AuditRoute />} />
      <Route path="/people" element={<PeopleRoute />} />
      <Route path="/people/:code" element={<PersonRoute />} />
      <Route path="/access" element={<AccessRoute />} />
      <Route path="/import" element={<ImportRoute />} />
      <Route path="/controls" element={<PartsRoute />} />
      <Route path="*" element={<NoPage />} />
    </Routes>
  );
}
