import { useQuery } from "@tanstack/react-query";
import { api, at, dataOf, type Schemas } from "./client";
import { keyOf, useTouched, useTouchedSoon } from "./touched";

export function useCoffees() {
  return useQuery({ queryKey: keyOf("coffees"), queryFn: async () => dataOf(await api.GET("/api/coffees")).coffees });
}

export function useCoffeeWrites() {
  const soon = useTouchedSoon("coffees");
  const touched = useTouched("coffees");
  return {
    add: async (body: Schemas["NewCoffee"]) => soon(dataOf(await api.POST("/api/coffees", { body }))),
    change: async (id: number, body: Schemas["CoffeeChange"]) =>
      touched(dataOf(await api.PATCH("/api/coffees/{id}", { ...at(id), body }))),
    remove: async (id: number) => touched(await api.DELETE("/api/coffees/{id}", at(id))),
    restore: async (id: number) => touched(dataOf(await api.POST("/api/coffees/{id}/restore", at(id)))),
  };
}
