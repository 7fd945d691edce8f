import { useSearchParams } from "react-router";
import { Drawing } from "../parts/Drawing";
import { Input } from "../parts/controls/Input";

/** The addresses of a customer to scale, or of one block of them. */
export function AddressPlan({ customer }: { customer: string }) {
  const [params, setParams] = useSearchParams();
  const within = params.get("within") ?? "";
  return (
    <>
      <form
        className="filters"
        onSubmit={(e) => {
          e.preventDefault();
          const typed = (new FormData(e.currentTarget).get("within") as string).trim();
          setParams(typed ? { tab: "addresses", within: typed } : { tab: "addresses" }, { replace: true });
        }}
      >
        <label>
          Only what overlaps <Input className="mono" name="within" defaultValue={within} placeholder="10.61.0.0/16" />
        </label>
        <button type="submit">Show</button>
      </form>
      <Drawing
        path={`/api/v1/customers/${customer}/addresses/drawing${within ? `?within=${encodeURIComponent(within)}` : ""}`}
        name={`${customer}-addresses.svg`}
        what="addresses"
      />
    </>
  );
}
