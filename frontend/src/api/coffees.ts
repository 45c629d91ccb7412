import { useQuery } from "@tanstack/react-query";
import { api, dataOf, type Schemas } from "./client";
import { keyOf, useTouchedSoon } from "./touched";

export function useCoffees() {
  return useQuery({ queryKey: keyOf("coffees"), queryFn: async () => dataOf(await api.GET("/api/coffees")).coffees });
}

export function useCoffeeWrites() {
  const soon = useTouchedSoon("coffees");
  return {
    add: async (body: Schemas["NewCoffee"]) => soon(dataOf(await api.POST("/api/coffees", { body }))),
  };
}
