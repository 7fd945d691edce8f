import { useMutation, useQueryClient, type UseMutationOptions } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { AlreadyDone, newAct, Refused, writer, type Writer } from "../service/api";
import { rereadAll } from "../service/queries";

/** How long nothing more is taken after a write: the second press of a double one falls into it. */
const rest = 400;

type Options<T, V> = Omit<UseMutationOptions<T, Error, V>, "mutationFn"> & {
  /** What is sent, by a client of its own for each act. */
  mutationFn: (said: V, api: Writer) => Promise<T>;
};

/**
 * A write: one press, one act. Its key is made when the form or page is opened and another one when it was done, so
 * that the service does once what comes twice. A press while one is under way, or right after it, is no second one;
 * that is known before anything is drawn again.
 */
export function useWrite<T, V = void>(options: Options<T, V>) {
  const queries = useQueryClient();
  const act = useRef("");
  act.current ||= newAct();
  const taken = useRef(false);
  const [resting, setResting] = useState(false);
  const write = useMutation<T, Error, V>({
    ...options,
    mutationFn: (said) => options.mutationFn(said, writer(act.current)),
    onSuccess: (...done) => {
      setResting(true);
      setTimeout(() => {
        act.current = newAct();
        taken.current = false;
        setResting(false);
      }, rest);
      return options.onSuccess?.(...done);
    },
    onError: (error, ...more) => {
      // What may have been done although nobody heard of it is sent again as the same act.
      if (error instanceof Refused && error.status > 0 && error.status < 500) act.current = newAct();
      taken.current = false;
      if (error instanceof AlreadyDone) void rereadAll(queries);
      return options.onError?.(error, ...more);
    },
  });
  const mutate = (said: V, more?: Parameters<typeof write.mutate>[1]) => {
    if (taken.current) return;
    taken.current = true;
    write.mutate(said, more);
  };
  return { ...write, mutate, isPending: write.isPending || resting };
}
